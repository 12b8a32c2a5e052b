//! Light-emitting diode with its series resistor: lights with a few milliamperes.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Look, Notice, NoticeKind, ParamSpec, PartKind, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// Saturation current and emission of a red LED: about 1.9 V at 10 mA; common practice.
const SATURATION_A: f64 = 1e-18;
const EMISSION: f64 = 2.0;
/// Currents from which it is seen, and seen bright, in amperes; common practice.
const SEEN_A: f64 = 0.000_5;
const BRIGHT_A: f64 = 0.005;

pub(super) struct Led;

impl PartKind for Led {
    fn kind(&self) -> &'static str {
        "led"
    }

    fn title(&self) -> &'static str {
        "LED"
    }

    fn letters(&self) -> &'static str {
        "H"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("A", "anode side", true),
                terminal("K", "cathode side", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[number(
                "series_ohms",
                "series resistor",
                "Ω",
                (1.0, 1000.0, 1e6),
            )]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const { &[mode("open", "diode or resistor open", 1.5)] }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("A", "K")]
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let inside = s.internal();
        let ohms = s.contact_ohms(true, s.param("series_ohms"), "open", "");
        let element = Element::resistor(s.node(0), inside, ohms);
        s.add("resistor", Role::Load, element);
        let element = Element::Diode {
            a: inside,
            b: s.node(1),
            saturation_a: SATURATION_A,
            emission: EMISSION,
        };
        s.add("junction", Role::Load, element);
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let part = &looks.first()?.part;
        let seen = |l: &Look<'_>| match l.current("resistor") {
            i if i >= BRIGHT_A => "bright",
            i if i >= SEEN_A => "dim",
            _ => "dark",
        };
        let first = seen(&looks[0]);
        let steady = looks.iter().all(|l| seen(l) == first);
        let sign = if steady { first } else { "flickers" };
        Some(Notice {
            kind: NoticeKind::Light,
            part: part.id.clone(),
            text: format!("{} {sign}", part.called()),
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}
