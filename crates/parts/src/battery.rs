//! Lead-acid battery: a rest voltage that falls as charge is taken, behind an internal resistance. On
//! charge it takes little until it gasses, then more: the voltage between rises in two straight lines.
//!
//! SAE J537 defines cold cranking amps at −18 °C by a terminal voltage of 7.2 V, which fixes the
//! cold resistance; warm, it is about three quarters of that (common practice). Run down, it gives
//! cranking current in proportion to the charge that is left (common practice): a battery at a
//! quarter of its charge stands near 12 V and yet does not crank.

use cimento_solver::Element;

use cimento_model::circuit::{Caution, DangerousAct, SeverityUnit};
use cimento_model::faults::{ModeSpec, graded, graded_in, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Change, Look, Notice, NoticeKind, ParamSpec, Params, PartKind, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;
use cimento_model::state::Engine;

/// Voltage that cold cranking amps are measured down to. Source: SAE J537.
const CRANKING_V: f64 = 7.2;
/// Share of the cold resistance that is left at 20 °C, and its slope per kelvin; common practice.
const WARM_SHARE: f64 = 0.75;
const SHARE_PER_KELVIN: f64 = (1.0 - WARM_SHARE) / 38.0;
/// Least share of the charge that the resistance is reckoned with: the last of it is spent slowly.
const LAST_SHARE: f64 = 0.02;
/// Voltage of one of the six cells, in volts; common practice.
const CELL_V: f64 = 2.1;

/// Share of the charge that is left, and how far the rest voltage has fallen by then, in volts.
/// Source: common practice for flooded cells at 25 °C (12.65 V full, 12.45 at three quarters, 12.24
/// at half, 12.06 at a quarter, 11.9 flat).
const FALL: [(f64, f64); 5] = [
    (1.0, 0.0),
    (0.75, 0.2),
    (0.5, 0.41),
    (0.25, 0.59),
    (0.0, 0.75),
];
/// On charge: how far above rest the voltage stands when the cells begin to gas, the current they
/// take there, and the resistance beyond; common practice.
const GASSES_V: f64 = 0.9;
const GASSES_A: f64 = 0.5;
const GASSING_OHMS: f64 = 0.08;
/// Inductance from post to post, in henries; common practice.
const HENRIES: f64 = 0.2e-6;
/// Levels: giving, taking a little, gassing.
const GIVES: u64 = 0;
const TAKES: u64 = 1;
const GASSES: u64 = 2;
/// From this voltage on a battery boils, in volts; common practice.
const BOILS_V: f64 = 15.2;
/// A battery that takes less than this while the engine runs is not charged, in amperes.
const CHARGED_A: f64 = 0.5;

/// How far the rest voltage has fallen with a share of the charge left, in volts.
fn fall_v(left: f64) -> f64 {
    let left = left.clamp(0.0, 1.0);
    let at = FALL
        .iter()
        .position(|(share, _)| *share <= left)
        .unwrap_or(FALL.len() - 1)
        .max(1);
    let ((x0, y0), (x1, y1)) = (FALL[at - 1], FALL[at]);
    y0 + (y1 - y0) * (x0 - left) / (x0 - x1)
}

pub(super) struct Battery;

impl Battery {
    /// Share of the charge that is left.
    fn left(c: &cimento_model::part::Context<'_>) -> f64 {
        (c.param("charge") - c.state.drained) * (1.0 - c.fault("discharged").unwrap_or(0.0))
    }

    fn rest_v(c: &cimento_model::part::Context<'_>) -> f64 {
        let left = Self::left(c);
        let dead = if c.fault("dead_cell").is_some() {
            CELL_V
        } else {
            0.0
        };
        c.param("rest_v") - fall_v(left) - dead
    }
}

impl PartKind for Battery {
    fn kind(&self) -> &'static str {
        "battery"
    }

    fn title(&self) -> &'static str {
        "Battery"
    }

    fn letters(&self) -> &'static str {
        "BAT"
    }

    fn cautions(&self) -> &'static [Caution] {
        &[Caution {
            rank: 3,
            text: "A battery gives off hydrogen. Take its negative off first, put it on last; no ring, watch or tool across the posts; never an ammeter across a source.",
        }]
    }

    fn danger(&self) -> Option<(DangerousAct, &'static str)> {
        Some((
            DangerousAct::BatteryOff,
            "Negative off first, on last; no sparks: a battery gives off hydrogen.",
        ))
    }

    fn terminals(&self) -> &'static [Terminal] {
        const { &[terminal("+", "post", true), terminal("-", "post", false)] }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number(
                    "rest_v",
                    "voltage at rest, fully charged",
                    "V",
                    (0.0, 12.6, 30.0),
                ),
                number("charge", "share of its charge", "", (0.0, 1.0, 1.0)),
                number("capacity_ah", "capacity", "A·h", (1.0, 60.0, 1000.0)),
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
                )
                .seen("white crust on the post"),
                graded_in(
                    SeverityUnit::Share,
                    "discharged",
                    "run down, share of its charge gone",
                    3.0,
                    (0.2, 0.8, 1.0),
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
        let rest = Self::rest_v(s);
        let share = WARM_SHARE - SHARE_PER_KELVIN * (s.operating.temperature_c - 20.0);
        let own = (12.6 - CRANKING_V) / s.param("cca_a") * share.clamp(0.5, 1.2)
            / Self::left(s).clamp(LAST_SHARE, 1.0)
            + s.fault("sulphated").unwrap_or(0.0);
        let (volts, inner) = match s.state.level {
            TAKES => (rest, GASSES_V / GASSES_A),
            GASSES => (rest + GASSES_V - GASSING_OHMS * GASSES_A, GASSING_OHMS),
            _ => (rest, own),
        };
        // What comes and goes faster than the cells can follow meets their conductors and acid only.
        let (volts, inner) = match s.riding() {
            Some(riding) => {
                let quick = own.hypot(std::f64::consts::TAU * riding.hz * HENRIES);
                (volts + (inner - quick) * riding.amps, quick)
            }
            None => (volts, inner),
        };
        let ohms = inner + s.fault("corroded_post").unwrap_or(0.0);
        let element = Element::source(s.node(0), s.node(1), volts, ohms);
        s.add("cells", Role::Source, element);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let taken = look.current("cells");
        let level = match look.state.level {
            GIVES if taken > 1e-9 => TAKES,
            TAKES if taken > GASSES_A => GASSES,
            TAKES if taken < 0.0 => GIVES,
            GASSES if taken < GASSES_A => TAKES,
            _ => return None,
        };
        Some(Change::to(level, 0.01))
    }

    fn charge_per_s(&self, look: &Look<'_>) -> f64 {
        look.current("cells") / (look.param("capacity_ah") * 3600.0)
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let last = looks.last()?;
        let taken = last.current("cells");
        let (text, sign) = if last.voltage(0, 1) >= BOILS_V {
            ("gasses and smells", "boils")
        } else if last.operating.engine == Engine::Running && taken < CHARGED_A {
            ("is not charged while the engine runs", "runs down")
        } else {
            return None;
        };
        Some(Notice {
            kind: NoticeKind::Charging,
            part: last.part.id.clone(),
            text: format!("{} {text}", last.part.called()),
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}
