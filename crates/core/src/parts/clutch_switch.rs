//! Clutch switch: closed while the pedal is down.

use super::params::number;
use super::{
    Control, ModeSpec, ParamSpec, Params, PartKind, Stamp, Terminal, graded, mode, terminal,
};
use crate::circuit::Part;

pub(super) struct ClutchSwitch;

impl PartKind for ClutchSwitch {
    fn kind(&self) -> &'static str {
        "clutch_switch"
    }

    fn title(&self) -> &'static str {
        "Clutch switch"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of switch", true),
                terminal("2", "back of switch", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[number(
                "contact_ohms",
                "resistance of the closed contact",
                "Ω",
                (0.0, 0.01, 1.0),
            )]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("contact_open", "contact never closes", 2.0),
                graded("contact_worn", "contact burnt", 2.0, (0.05, 20.0, 1e5)),
                mode("contact_stuck", "contact never opens", 1.0),
            ]
        }
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(0, 1)]
    }

    fn control(&self, _: &Part) -> Option<Control> {
        Some(Control {
            name: "clutch",
            positions: vec!["up".to_owned(), "down".to_owned()],
            rest: "up".to_owned(),
            worked: "down".to_owned(),
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let closed = s.control("clutch") == "down" || s.fault("contact_stuck").is_some();
        let ohms = s.contact_ohms(
            closed,
            s.param("contact_ohms"),
            "contact_open",
            "contact_worn",
        );
        s.contact("contact", (0, 1), ohms);
    }
}
