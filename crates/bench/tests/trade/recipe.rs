//! A new kind of part, made as CONTRIBUTING says: nothing but its own description, and it works on the
//! bench with instruments, faults and what is noticed of it.

use std::sync::Arc;

use cimento_bench::Bench;
use cimento_model::circuit::{Caution, Circuit};
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::{
    Look, Notice, NoticeKind, ParamSpec, PartKind, Stamp, Terminal, number, terminal,
};
use cimento_model::stamped::Role;
use cimento_parts::read_circuit;
use cimento_solver::Element;

use crate::common::{fault, volts, with};

/// A heater in a tank: it glows above a power.
struct TankHeater;

static TANK_HEATER: TankHeater = TankHeater;

impl PartKind for TankHeater {
    fn kind(&self) -> &'static str {
        "tank_heater"
    }

    fn title(&self) -> &'static str {
        "Tank heater"
    }

    fn letters(&self) -> &'static str {
        "E"
    }

    fn cautions(&self) -> &'static [Caution] {
        &[Caution {
            rank: 4,
            text: "A tank heater stays hot after it is switched off.",
        }]
    }

    fn terminals(&self) -> &'static [Terminal] {
        const { &[terminal("1", "feed", true), terminal("2", "ground", false)] }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &[number("ohms", "resistance", "Ω", (0.1, 2.0, 50.0))] }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("burnt_out", "heater burnt out", 2.0).seen("blistered"),
                graded("furred", "heater furred up", 1.0, (0.5, 2.0, 50.0)),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ohms = match s.fault("burnt_out") {
            Some(_) => f64::INFINITY,
            None => s.param("ohms") + s.fault("furred").unwrap_or(0.0),
        };
        let element = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("heater", Role::Load, element);
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let last = looks.last()?;
        let watts = last.across("heater") * last.current("heater");
        let sign = if watts.abs() > 40.0 { "hot" } else { "cold" };
        Some(Notice {
            kind: NoticeKind::Light,
            part: last.part.id.clone(),
            text: format!("{} {sign}", last.part.called()),
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}

/// A heater of 2 Ω on a battery of 12 V through wires of 0.5 Ω each.
fn circuit() -> Arc<Circuit> {
    let text = r#"{"format":"cimento/circuit","version":1,"title":"t","system_v":12,
        "parts":{"BAT":{"kind":"battery","params":{"rest_v":12}},
                 "E1":{"kind":"resistor","name":"Tank heater","params":{"ohms":2}}},
        "wires":[{"id":"W1","from":"BAT.+","to":"E1.1","ohms":0.5},
                 {"id":"W2","from":"E1.2","to":"BAT.-","ohms":0.5}]}"#;
    let mut circuit = read_circuit(text).unwrap();
    // In place of the line in the registry.
    let own = Arc::get_mut(&mut circuit).unwrap();
    own.parts[1].kind = &TANK_HEATER;
    circuit
}

fn noticed(bench: &Bench) -> Vec<String> {
    let all = bench.notices().into_iter();
    all.filter(|n| n.part == "E1").map(|n| n.text).collect()
}

#[test]
fn a_part_made_by_the_recipe_works_on_the_bench() {
    let circuit = circuit();
    let healthy = with(&circuit, &[], &[]);
    // 12 V over 3 Ω and the battery's few milliohms: two thirds of it at the heater, 32 W.
    let across = volts(&healthy, "E1.1", "E1.2");
    assert!((across - 8.0).abs() < 0.05, "{across}");
    assert_eq!(noticed(&healthy), ["tank heater cold"]);
    let furred = with(&circuit, &["E1:furred=9"], &[]);
    let across = volts(&furred, "E1.1", "E1.2");
    assert!((across - 11.0).abs() < 0.05, "{across}");
    let burnt = with(&circuit, &["E1:burnt_out"], &[]);
    let across = volts(&burnt, "E1.1", "E1.2");
    assert!((across - 12.0).abs() < 0.05, "{across}");
    assert_eq!(
        fault(&circuit, "E1:burnt_out").mode.spec.looks,
        Some("blistered")
    );
    let cautions = circuit.cautions();
    assert!(
        cautions.iter().any(|c| c.contains("stays hot")),
        "{cautions:?}"
    );
    let open = with(&circuit, &["W2:open"], &[]);
    assert!(volts(&open, "E1.1", "E1.2").abs() < 0.05);
}
