//! Lead-acid battery: a rest voltage behind an internal resistance.
//!
//! SAE J537 defines cold cranking amps at −18 °C by a terminal voltage of 7.2 V, which fixes the
//! cold resistance; warm, it is about three quarters of that (common practice).

use cimento_solver::Element;

use super::params::number;
use super::{ModeSpec, ParamSpec, Params, PartKind, Stamp, Terminal, graded, mode, terminal};
use crate::bench::Role;

/// Voltage that cold cranking amps are measured down to. Source: SAE J537.
const CRANKING_V: f64 = 7.2;
/// Share of the cold resistance that is left at 20 °C, and its slope per kelvin; common practice.
const WARM_SHARE: f64 = 0.75;
const SHARE_PER_KELVIN: f64 = (1.0 - WARM_SHARE) / 38.0;
/// Voltage of one of the six cells, in volts; common practice.
const CELL_V: f64 = 2.1;

pub(super) struct Battery;

impl PartKind for Battery {
    fn kind(&self) -> &'static str {
        "battery"
    }

    fn title(&self) -> &'static str {
        "Battery"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const { &[terminal("+", "post", true), terminal("-", "post", false)] }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("rest_v", "voltage at rest", "V", (0.0, 12.6, 30.0)),
                number("cca_a", "cold cranking amps", "A", (10.0, 600.0, 3000.0)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("dead_cell", "one cell shorted", 1.0),
                graded(
                    "corroded_post",
                    "corrosion between post and clamp",
                    4.0,
                    (0.005, 0.03, 1000.0),
                ),
                graded(
                    "sulphated",
                    "internal resistance risen",
                    2.0,
                    (0.005, 0.03, 10.0),
                ),
            ]
        }
    }

    fn is_source(&self) -> bool {
        true
    }

    fn rating(&self, params: &Params) -> String {
        format!("12 V · {:.0} A", params.number("cca_a"))
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let mut volts = s.param("rest_v");
        let share = WARM_SHARE - SHARE_PER_KELVIN * (s.operating.temperature_c - 20.0);
        let mut ohms = (12.6 - CRANKING_V) / s.param("cca_a") * share.clamp(0.5, 1.2);
        if s.fault("dead_cell").is_some() {
            volts -= CELL_V;
        }
        ohms += s.fault("sulphated").unwrap_or(0.0) + s.fault("corroded_post").unwrap_or(0.0);
        let element = Element::source(s.node(0), s.node(1), volts, ohms);
        s.add("cells", Role::Source, element);
    }
}
