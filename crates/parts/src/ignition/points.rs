//! Contact breaker: a cam opens it once for each spark. Terminals after DIN 72552: 1 lead, 31 base plate.
//! While the engine stands, its control says where the cam has come to rest.

use cimento_solver::{Element, Trigger};

use cimento_model::circuit::{Part, SeverityUnit};
use cimento_model::faults::{ModeSpec, graded, graded_in, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Context, Control, Ignition, ParamSpec, PartKind, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// The gap that contacts are set to, in millimetres, and how much of it makes a degree of dwell; common
/// practice: a thousandth of an inch.
const SET_MM: f64 = 0.4;
const MM_A_DEGREE: f64 = 0.0254;
/// A cam that lifts its contacts at all keeps them closed for no more than this share.
const MOST_CLOSED: f64 = 0.95;

/// Degrees of the crankshaft by which contacts open late. A degree of dwell, of the distributor, is one of
/// timing, of the crankshaft: half of it lies at the opening, and the crankshaft turns twice as fast; common
/// practice.
fn late_deg(c: &Context<'_>) -> f64 {
    let gap = c.fault("gap_small");
    gap.map_or(0.0, |mm| (SET_MM - mm) / MM_A_DEGREE)
}

/// Share of the time that contacts are closed: they still open when the gap is small.
fn closed_share(c: &Context<'_>) -> f64 {
    let more = 2.0 * late_deg(c) * c.param("cylinders") / 720.0;
    (c.param("dwell") + more).min(MOST_CLOSED)
}

const POSITIONS: [&str; 2] = ["closed", "open"];
const CLOSED_OHMS: f64 = 0.02;
/// What jumps the contacts as they part, where no condenser takes the current over, and the arc that
/// then burns between them; common practice.
const PARTING_V: f64 = 500.0;
const PARTING_ARC: (f64, f64) = (1.0, 15.0);
const PARTING_HOLD_A: f64 = 0.3;
/// Capacitance of the breaker and its leads, in farads; common practice.
const STRAY_F: f64 = 1e-9;

pub(crate) struct Points;

impl PartKind for Points {
    fn kind(&self) -> &'static str {
        "points"
    }

    fn title(&self) -> &'static str {
        "Contact breaker"
    }

    fn letters(&self) -> &'static str {
        "S"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "lead", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "base plate", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("cylinders", "sparks in two turns", "", (1.0, 4.0, 8.0)),
                number("dwell", "share of the time closed", "", (0.2, 0.55, 0.9)),
                number(
                    "contact_ohms",
                    "resistance when closed",
                    "Ω",
                    (0.0, CLOSED_OHMS, 1.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                graded("pitted", "contacts pitted", 2.5, (0.05, 1.0, 1e5)),
                graded_in(
                    SeverityUnit::Millimetre,
                    "gap_small",
                    "heel worn, gap closing up",
                    2.0,
                    (0.1, 0.2, 0.35),
                ),
                mode("never_open", "heel worn, never opens", 1.5).adjustable(),
                mode(
                    "never_close",
                    "gap too wide or dirt between, never closes",
                    1.5,
                )
                .adjustable(),
            ]
        }
    }

    fn contacts(&self, _: &cimento_model::part::Params) -> Vec<(usize, usize)> {
        vec![(0, 1)]
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: part.control.clone().unwrap_or_else(|| "breaker".to_owned()),
            positions: POSITIONS.map(str::to_owned).to_vec(),
            rest: POSITIONS[0].to_owned(),
            worked: POSITIONS[0].to_owned(),
            alone: false,
        })
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        Some(Alternation {
            hz: c.rpm / 120.0 * c.param("cylinders"),
            share: closed_share(c),
        })
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ohms = s.param("contact_ohms") + s.fault("pitted").unwrap_or(0.0);
        let every = 720.0 / s.param("cylinders");
        let schedule = s
            .turning()
            .map(|t| t.contact(late_deg(s), every, every * closed_share(s)));
        let stuck = match (s.fault("never_open"), s.fault("never_close")) {
            (Some(_), _) => Some(true),
            (_, Some(_)) => Some(false),
            _ => None,
        };
        let (closed, changes) = match (stuck, schedule) {
            (Some(closed), _) => (closed, Vec::new()),
            (None, Some(schedule)) => schedule,
            (None, None) if s.rpm > 0.0 => (s.up(), Vec::new()),
            (None, None) => (s.control("breaker") == POSITIONS[0], Vec::new()),
        };
        let ends = (s.node(0), s.node(1));
        let trigger = Trigger::Schedule(changes);
        s.switched(
            "contact",
            Role::Contact,
            ends,
            (ohms, 0.0),
            (closed, trigger),
        );
        let stray = Element::Capacitor {
            a: ends.0,
            b: ends.1,
            farads: STRAY_F,
        };
        s.add("stray", Role::Stray, stray);
        let parting = Trigger::Gap {
            breakdown_v: PARTING_V,
            in_time: None,
            hold_a: PARTING_HOLD_A,
            rests_s: 0.0,
        };
        s.switched("arc", Role::Stray, ends, PARTING_ARC, (false, parting));
    }
}

impl Ignition for Points {
    fn retards_deg(&self, context: &Context<'_>) -> f64 {
        late_deg(context)
    }
}
