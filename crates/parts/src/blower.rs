//! Blower motor: a small DC motor whose fan takes more torque the faster it turns.

use cimento_solver::{Element, Load};

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Look, Notice, NoticeKind, ParamSpec, PartKind, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// Shares of its speed at 12 V from which a blower is heard to run, and to run fully.
const RUNS: f64 = 0.15;
const FULLY: f64 = 0.75;

pub(super) struct Blower;

impl Blower {
    /// Speed at 12 V across the terminals, in rad/s.
    fn full_speed(look: &Look<'_>) -> f64 {
        let (ohms, k) = (look.param("armature_ohms"), look.param("v_s_per_rad"));
        (k * 12.0 / ohms - look.param("static_nm")) / (look.param("viscous_nm_s") + k * k / ohms)
    }
}

impl PartKind for Blower {
    fn kind(&self) -> &'static str {
        "blower"
    }

    fn title(&self) -> &'static str {
        "Blower motor"
    }

    fn letters(&self) -> &'static str {
        "M"
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
        const {
            &[
                number(
                    "armature_ohms",
                    "armature and brushes",
                    "Ω",
                    (0.01, 0.35, 100.0),
                ),
                number(
                    "v_s_per_rad",
                    "back EMF per speed",
                    "V·s/rad",
                    (0.001, 0.03, 10.0),
                ),
                number("static_nm", "friction", "N·m", (0.0, 0.02, 100.0)),
                number(
                    "viscous_nm_s",
                    "drag of the fan per speed",
                    "N·m·s",
                    (1e-6, 8e-4, 10.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("brushes_open", "brushes off the commutator", 2.0),
                graded("brushes_worn", "brushes worn", 1.5, (0.1, 1.0, 1000.0)),
                mode("seized", "shaft seized", 1.0),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let inside = s.internal();
        let ohms = s.contact_ohms(true, 0.0, "brushes_open", "brushes_worn");
        let element = Element::resistor(s.node(0), inside, ohms);
        s.add("brushes", Role::Contact, element);
        let seized = s.fault("seized").is_some();
        let held = if seized {
            Some(0.0)
        } else {
            (!s.balanced()).then_some(s.state.speed)
        };
        let element = Element::Motor {
            a: inside,
            b: s.node(1),
            ohms: s.param("armature_ohms"),
            k: s.param("v_s_per_rad"),
            load: Load {
                static_nm: s.param("static_nm"),
                viscous: s.param("viscous_nm_s"),
            },
            held,
        };
        s.add("motor", Role::Load, element);
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let last = looks.last()?;
        let share = last.state.speed / Self::full_speed(last);
        let word = if share >= FULLY {
            "runs"
        } else if share >= RUNS {
            "runs slowly"
        } else {
            "stands still"
        };
        Some(Notice {
            kind: NoticeKind::Sound,
            part: last.part.id.clone(),
            text: format!("{} {word}", last.part.called()),
            sign: word.to_owned(),
            hidden: false,
        })
    }
}
