//! Loads that are a winding or a heating wire and do something when enough voltage is across them:
//! horn, injector, solenoid valve, heater.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Fuel, Look, Notice, NoticeKind, ParamSpec, Params, PartKind, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// A kind of load.
pub(super) struct Actuator {
    kind: &'static str,
    title: &'static str,
    params: &'static [ParamSpec],
    /// Share of the system voltage from which it works, and works fully; common practice.
    works: f64,
    fully: f64,
    /// What is noticed: full, weak, nothing.
    words: [&'static str; 3],
}

const fn ohms(usual: f64) -> ParamSpec {
    number("ohms", "resistance at 20 °C", "Ω", (0.05, usual, 10_000.0))
}

/// About 4 A at 12 V (common practice).
pub(super) static HORN: Actuator = Actuator {
    kind: "horn",
    title: "Horn",
    params: &[ohms(3.0)],
    works: 0.4,
    fully: 0.75,
    words: ["sounds", "croaks", "is silent"],
};

/// High-impedance injector, about 12 Ω (common practice).
pub(super) static INJECTOR: Actuator = Actuator {
    kind: "injector",
    title: "Injector",
    params: &[ohms(12.0)],
    works: 0.55,
    fully: 0.55,
    words: ["is held open", "ticks", "is shut"],
};

pub(super) static SOLENOID_VALVE: Actuator = Actuator {
    kind: "solenoid_valve",
    title: "Solenoid valve",
    params: &[ohms(20.0)],
    works: 0.5,
    fully: 0.5,
    words: ["is drawn", "is drawn", "is at rest"],
};

pub(super) static HEATER: Actuator = Actuator {
    kind: "heater",
    title: "Heater",
    params: &[ohms(1.2)],
    works: 0.3,
    fully: 0.8,
    words: ["warms", "is lukewarm", "stays cold"],
};

/// Swing of its voltage from which a coil is heard to tick, in volts; common practice.
const TICKS_V: f64 = 6.0;

impl PartKind for Actuator {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn letters(&self) -> &'static str {
        "Y"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of plug, feed", true),
                terminal("2", "back of plug, return", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        self.params
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("winding_open", "winding open", 2.0),
                graded(
                    "winding_shorted",
                    "turns shorted, ohms left",
                    0.5,
                    (0.02, 0.3, 3.0),
                ),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn rating(&self, params: &Params) -> String {
        cimento_model::units::Quantity::Number(params.number("ohms"))
            .text(cimento_model::units::Unit::Ohm)
    }

    fn fuel(&self) -> Option<&dyn Fuel> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let shorted = s.fault("winding_shorted");
        let ohms = match (s.fault("winding_open"), shorted) {
            (Some(_), _) => f64::INFINITY,
            (None, Some(left)) => left.min(s.param("ohms")),
            (None, None) => s.param("ohms"),
        };
        let element = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("winding", Role::Load, element);
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let part = &looks.first()?.part;
        // What moves or warms is driven by the current it should have at full voltage.
        let level = |l: &Look<'_>| {
            let share = l.current("winding").abs() * l.param("ohms") / 12.0;
            if share >= self.fully {
                0
            } else if share >= self.works {
                1
            } else {
                2
            }
        };
        let first = level(&looks[0]);
        let steady = looks.iter().all(|l| level(l) == first);
        // Driven in pulses it is heard to tick.
        let ticks = looks.iter().all(|l| l.swing("winding") > TICKS_V);
        let word = if ticks {
            "ticks"
        } else if steady {
            self.words[first]
        } else {
            "comes and goes"
        };
        Some(Notice {
            kind: NoticeKind::Sound,
            part: part.id.clone(),
            text: format!("{} {word}", part.called()),
            sign: word.to_owned(),
            hidden: false,
        })
    }
}

impl Fuel for Actuator {
    fn fuels(&self, look: &Look<'_>) -> Option<bool> {
        (self.kind == INJECTOR.kind).then(|| look.swing("winding") > TICKS_V)
    }
}
