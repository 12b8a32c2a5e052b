//! Potentiometer sensor of a pedal or throttle: supply, signal, ground.

use cimento_solver::Element;

use super::params::number;
use super::{Control, ModeSpec, ParamSpec, PartKind, Stamp, Terminal, graded, mode, terminal};
use crate::bench::Role;
use crate::circuit::Part;

/// Share of the track below the wiper, by position of the pedal; common practice leaves both ends
/// free, so that a break is told from an end.
const POSITIONS: [(&str, f64); 3] = [("released", 0.1), ("half", 0.5), ("full", 0.9)];

pub(super) struct Potentiometer;

impl PartKind for Potentiometer {
    fn kind(&self) -> &'static str {
        "potentiometer"
    }

    fn title(&self) -> &'static str {
        "Pedal sensor"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of plug, supply", true),
                terminal("2", "back of plug, signal", false),
                terminal("3", "back of plug, ground", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("track_ohms", "whole track", "Ω", (100.0, 5000.0, 1e6)),
                number("wiper_ohms", "wiper contact", "Ω", (0.0, 100.0, 1e5)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("track_open", "track broken at its supply end", 1.0),
                mode("wiper_open", "wiper lifts off", 2.0),
                graded(
                    "wiper_worn",
                    "wiper contact worn",
                    2.0,
                    (200.0, 5000.0, 1e6),
                ),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "3")]
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: part.control.clone().unwrap_or_else(|| "pedal".to_owned()),
            positions: POSITIONS
                .iter()
                .map(|(name, _)| (*name).to_owned())
                .collect(),
            rest: POSITIONS[0].0.to_owned(),
            worked: POSITIONS[1].0.to_owned(),
            alone: true,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let at = POSITIONS
            .iter()
            .find(|(name, _)| *name == s.control("pedal"));
        let share = at.map_or(POSITIONS[0].1, |(_, share)| *share);
        let track = s.param("track_ohms");
        let inside = s.internal();
        let upper = s.contact_ohms(true, track * (1.0 - share), "track_open", "");
        let element = Element::resistor(s.node(0), inside, upper);
        s.add("track above", Role::Load, element);
        let element = Element::resistor(inside, s.node(2), track * share);
        s.add("track below", Role::Load, element);
        let wiper = s.contact_ohms(true, s.param("wiper_ohms"), "wiper_open", "wiper_worn");
        let element = Element::resistor(inside, s.node(1), wiper);
        s.add("wiper", Role::Contact, element);
    }
}
