//! Spark plug: a gap in the gas of its cylinder, and an insulator that soot may bridge. Its control says
//! whether it is fitted or lies on the block in open air. Its level is 1 while its cylinder fires.

use cimento_solver::{Element, Shape};

use super::breakdown::{EDGE, breakdown_v};
use super::gap::{gap_in_a_cylinder, spark_gap};
use cimento_model::circuit::{Caution, DangerousAct, Part, SeverityUnit};
use cimento_model::faults::{ModeSpec, graded, graded_in, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Context, Control, Cylinder, Ignition, ParamSpec, Params, PartKind, SparkPlug, Stamp, Terminal,
    Turning, terminal,
};
use cimento_model::stamped::Role;
use cimento_model::state::OperatingState;

/// Where a plug lies whose spark is looked at.
pub const ON_THE_BLOCK: &str = "on the block";
const POSITIONS: [&str; 2] = ["fitted", ON_THE_BLOCK];
/// A cracked insulator flashes over at so many volts, away from the gas; common practice.
const CRACK_V: f64 = 3500.0;
/// A bridged gap, in ohms.
const BRIDGED_OHMS: f64 = 1.0;
/// How well a cylinder squeezes its gas with a loose plug; common practice.
const LEAKS: f64 = 0.5;
/// How far the gas is squeezed, from spent to as it fires, over degrees of the crankshaft since it
/// should fire; common practice.
const FOUR_STROKES: [(f64, f64); 5] = [
    (0.0, 1.0),
    (40.0, 1.0),
    (180.0, 0.0),
    (540.0, 0.0),
    (720.0, 1.0),
];
/// What soot leaves of a plug that stays too cold to burn it off, in ohms; common practice.
const SOOT_OHMS: f64 = 2e4;
/// Insulation of a clean plug, in ohms.
const CLEAN_OHMS: f64 = 1e9;

pub(crate) struct Plug;

impl PartKind for Plug {
    fn kind(&self) -> &'static str {
        "spark_plug"
    }

    fn sits_by(&self) -> &'static [&'static str] {
        &["cylinder"]
    }

    fn title(&self) -> &'static str {
        "Spark plug"
    }

    fn letters(&self) -> &'static str {
        "E"
    }

    fn cautions(&self) -> &'static [Caution] {
        &[Caution {
            rank: 0,
            text: "Ignition: tens of kilovolts, which can injure and can upset an implanted device. Never hold a lead or plug while the engine turns; give every spark a gap to ground, away from fuel vapour: a coil that runs with nowhere to spark is harmed inside.",
        }]
    }

    fn danger(&self) -> Option<(DangerousAct, &'static str)> {
        Some((
            DangerousAct::OpenSpark,
            "Ground the plug's shell, keep off it and its lead while the engine turns, and keep fuel vapour away: tens of kilovolts.",
        ))
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("4", "top", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "shell", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("gap_mm", "gap", "mm", (0.2, 0.76, 2.0)),
                number("cylinder", "number of its cylinder", "", (1.0, 1.0, 12.0)),
                number("strokes", "strokes of its engine", "", (2.0, 4.0, 4.0)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                graded(
                    "fouled",
                    "wet or sooted, leaks across",
                    2.5,
                    (1e4, 1e5, 1e7),
                ),
                graded_in(
                    SeverityUnit::Millimetre,
                    "gap_wide",
                    "gap burnt wide",
                    1.5,
                    (0.9, 2.0, 6.0),
                )
                .adjustable(),
                mode("gap_bridged", "gap bridged", 0.5),
                mode("cracked", "insulator cracked", 0.7),
                mode("too_cold", "of too cold a heat range, sooted at idle", 0.3),
                mode("loose", "loose in its thread, compression leaks past", 0.5)
                    .seen("soot around the thread"),
            ]
        }
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} mm", params.number("gap_mm"))
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: name(part),
            positions: POSITIONS.map(str::to_owned).to_vec(),
            rest: POSITIONS[0].to_owned(),
            worked: POSITIONS[0].to_owned(),
            alone: false,
        })
    }

    fn plug(&self) -> Option<&dyn SparkPlug> {
        Some(self)
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (top, shell) = (s.node(0), s.node(1));
        s.insulate(top);
        let fitted = self.is_in_cylinder(s.part, s.operating);
        let gap_mm = s.fault("gap_wide").unwrap_or(s.param("gap_mm"));
        // Under load even a cold plug burns itself clean.
        let soot = match s.fault("too_cold") {
            Some(_) if !s.operating.engine_loaded => SOOT_OHMS,
            _ => CLEAN_OHMS,
        };
        let insulation = if s.fault("gap_bridged").is_some() {
            BRIDGED_OHMS
        } else {
            // Oil and soot leak where it is hot and under pressure; in open air they do so too.
            s.fault("fouled").unwrap_or(soot)
        };
        s.add(
            "insulation",
            Role::Stray,
            Element::resistor(top, shell, insulation),
        );
        let ends = (top, shell);
        match s.turning() {
            Some(turning) if fitted => {
                let needs = needs(s, turning, gap_mm);
                gap_in_a_cylinder(s, "gap", ends, needs);
            }
            _ => {
                let needs_v = breakdown_v(gap_mm, 1.0, EDGE);
                spark_gap(s, "gap", Role::Load, ends, (needs_v, 0.0));
            }
        }
        if s.fault("cracked").is_some() {
            spark_gap(s, "crack", Role::Stray, (top, shell), (CRACK_V, 0.0));
        }
    }
}

impl Ignition for Plug {
    fn high_voltage(&self) -> &'static [usize] {
        &[0]
    }
}

impl SparkPlug for Plug {
    fn cylinder(&self, params: &Params) -> Option<Cylinder> {
        let whole = |name: &str| params.number(name).round() as usize;
        Some(Cylinder {
            number: whole("cylinder"),
            strokes: if whole("strokes") < 3 { 2 } else { 4 },
        })
    }

    fn compression(&self, c: &Context<'_>) -> f64 {
        match self.is_in_cylinder(c.part, c.operating) {
            true if c.fault("loose").is_some() => LEAKS,
            true => 1.0,
            false => 0.0,
        }
    }

    fn is_in_cylinder(&self, part: &Part, operating: &OperatingState) -> bool {
        operating.control(&name(part)) != POSITIONS[1]
    }
}

/// Volts that the gap of a fitted plug needs as the crankshaft turns: most as its cylinder fires, least
/// while the burnt gas leaves.
fn needs(s: &Stamp<'_>, turning: &Turning, gap_mm: f64) -> Shape {
    let cylinder = s.param("cylinder").round() as usize;
    let own = turning.strokes.place(cylinder);
    let compression = turning.compression.get(own).copied().unwrap_or(1.0);
    let exhaust = turning.exhaust_density;
    let squeezed = exhaust + (turning.compression_density - exhaust) * compression;
    let volts = |density| breakdown_v(gap_mm, density, EDGE);
    let strokes = &turning.strokes;
    let points = match strokes.period_deg > 360.0 {
        true => FOUR_STROKES.map(|(deg, share)| {
            let density = exhaust + (squeezed - exhaust) * share;
            (turning.seconds(deg), volts(density))
        }),
        // Its every spark finds the gas compression_density.
        false => {
            [0.0, 90.0, 180.0, 270.0, 360.0].map(|deg| (turning.seconds(deg), volts(squeezed)))
        }
    };
    Shape::Lines {
        points: points.to_vec(),
        phase_s: turning.seconds(turning.from_deg - strokes.fires_deg(cylinder)),
    }
}

/// What the machine calls where the plug is.
fn name(part: &Part) -> String {
    let own = || format!("plug {}", part.params.number("cylinder"));
    part.control.clone().unwrap_or_else(own)
}
