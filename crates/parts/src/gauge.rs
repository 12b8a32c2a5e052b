//! Gauge and sender. The gauge is a coil whose needle goes with its current; the sender a resistance
//! that falls as the level rises, grounded through its body.

use cimento_solver::Element;

use cimento_model::circuit::Part;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Control, Look, Notice, NoticeKind, ParamSpec, PartKind, Shelf, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// Resistance of the sender by level, in ohms; common practice.
const LEVELS: [(&str, f64); 3] = [("empty", 180.0), ("half", 80.0), ("full", 10.0)];
/// Shares of the current at 12 V without a sender's resistance between which the needle shows each
/// third of its scale.
const EMPTY: f64 = 0.33;
const FULL: f64 = 0.7;

pub(super) struct Gauge;

impl PartKind for Gauge {
    fn kind(&self) -> &'static str {
        "gauge"
    }

    fn title(&self) -> &'static str {
        "Gauge"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Sensors
    }

    fn letters(&self) -> &'static str {
        "P"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("+", "back of gauge, feed", true),
                terminal("G", "back of gauge, sender", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &[number("coil_ohms", "coil", "Ω", (5.0, 80.0, 1000.0))] }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const { &[mode("coil_open", "coil open", 1.5)] }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("+", "G")]
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ohms = s.contact_ohms(true, s.param("coil_ohms"), "coil_open", "");
        let coil = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("coil", Role::Load, coil);
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let last = looks.last()?;
        let share = last.current("coil").abs() * last.param("coil_ohms") / 12.0;
        let word = match share {
            share if share < 0.05 => "dead",
            share if share < EMPTY => "reads empty",
            share if share < FULL => "reads half",
            _ => "reads full",
        };
        Some(Notice {
            kind: NoticeKind::Light,
            part: last.part.id.clone(),
            text: format!("{} {word}", last.part.called()),
            sign: word.to_owned(),
            hidden: false,
        })
    }
}

pub(super) struct Sender;

impl PartKind for Sender {
    fn kind(&self) -> &'static str {
        "sender"
    }

    fn title(&self) -> &'static str {
        "Level sender"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Sensors
    }

    fn letters(&self) -> &'static str {
        "B"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("G", "stud", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "body", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        &[]
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("open", "wiper off its track", 2.0),
                graded("worn", "wiper contact worn", 1.5, (20.0, 100.0, 1e5)),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("G", "31")]
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: part.control.clone().unwrap_or_else(|| "tank".to_owned()),
            positions: LEVELS.iter().map(|(name, _)| (*name).to_owned()).collect(),
            rest: LEVELS[2].0.to_owned(),
            worked: LEVELS[2].0.to_owned(),
            alone: false,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let at = LEVELS.iter().find(|(name, _)| *name == s.control("tank"));
        let healthy = at.map_or(LEVELS[2].1, |(_, ohms)| *ohms);
        let ohms = s.contact_ohms(true, healthy, "open", "worn");
        let track = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("track", Role::Load, track);
    }
}
