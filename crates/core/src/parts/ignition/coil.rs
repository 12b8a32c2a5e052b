//! Ignition coil in a can. Terminals after DIN 72552: 15 feed, 1 to the contact breaker, 4 high voltage.

use super::windings::{self, Ends};
use crate::parts::{ModeSpec, ParamSpec, Params, PartKind, Stamp, Terminal, terminal};

pub(in crate::parts) struct Coil;

impl PartKind for Coil {
    fn kind(&self) -> &'static str {
        "ignition_coil"
    }

    fn title(&self) -> &'static str {
        "Ignition coil"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("15", "feed stud", true),
                terminal("1", "breaker stud", false),
                terminal("4", "tower", false),
                Terminal {
                    is_case: true,
                    needed: false,
                    ..terminal("31", "bracket", false)
                },
            ]
        }
    }

    fn high_voltage(&self) -> &'static [usize] {
        &[2]
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &windings::params(1.5, 0.008, 90.0, 9000.0) }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        &windings::MODES
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("15", "1")]
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} Ω", params.number("primary_ohms"))
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ends = Ends {
            feed: s.node(0),
            switched: s.node(1),
            high: s.node(2),
            case: s.node(3),
        };
        windings::stamp(s, &ends);
    }
}
