//! Why a voltage stands where it stands: claims of one machine that can be checked, and their words.

use cimento_bench::Bench;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::key::{FLOWS_A, LOST_V, mid, through_node};

/// From this share of the supply on it stands at the point, and below the other nothing does; common practice.
const FULL: f64 = 0.9;
const NOTHING: f64 = 0.05;
/// What has more ohms than this joins nothing as a wire does.
const JOINS_OHMS: f64 = 1.0;

/// A reason for a voltage.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Reason {
    /// Against battery negative.
    SupplyUnderLoad,
    SupplyAtRest,
    Divided,
    UsedUp,
    NotReached,
    Grounded,
    /// Between two points of the circuit.
    Dropped,
    HeldByOpen,
    NoLoss,
    NothingFlows,
}

impl Reason {
    /// Those that come into question for a voltage against battery negative, or between two other points.
    pub fn of(against_negative: bool) -> &'static [Self] {
        match against_negative {
            true => &[
                Self::SupplyUnderLoad,
                Self::SupplyAtRest,
                Self::Divided,
                Self::UsedUp,
                Self::NotReached,
                Self::Grounded,
            ],
            false => &[
                Self::Dropped,
                Self::HeldByOpen,
                Self::NoLoss,
                Self::NothingFlows,
            ],
        }
    }

    /// As a student reads it.
    pub fn text(self) -> &'static str {
        match self {
            Self::SupplyUnderLoad => "current flows, and nothing much is lost on the way here",
            Self::SupplyAtRest => "no current flows, so the full supply stands here",
            Self::Divided => "the supply is divided between what lies before and after this point",
            Self::UsedUp => "current flows, and the load before this point has dropped the supply",
            Self::NotReached => "the supply does not reach this point: the path is open before it",
            Self::Grounded => "this point is joined to battery negative",
            Self::Dropped => "current flows through what lies between and drops this voltage",
            Self::HeldByOpen => "the path is open between the two, and the open holds the voltage",
            Self::NoLoss => "current flows, and what lies between loses next to nothing",
            Self::NothingFlows => "no current flows between the two, so nothing is dropped",
        }
    }
}

/// Which reasons hold for a voltage from one node to another of a machine as it stands.
pub fn holding(bench: &Bench, red: usize, black: usize) -> Vec<Reason> {
    let seen = Seen::new(bench, [red, black]);
    let all = Reason::of(black == 0).iter().copied();
    all.filter(|reason| seen.holds(*reason)).collect()
}

/// What reasons are judged by.
struct Seen {
    /// Volts from the red node to the black one, and as a share of what the battery stands at.
    volts: f64,
    share: f64,
    /// Current passes at both nodes; it passes at the red one.
    both_carry: bool,
    carries: bool,
    /// Joined to the battery's posts as by a wire.
    joined: [bool; 2],
}

impl Seen {
    fn new(bench: &Bench, [red, black]: [usize; 2]) -> Self {
        let positive = bench.circuit.positive();
        let supply = (mid(bench, positive) - mid(bench, 0))
            .abs()
            .max(f64::MIN_POSITIVE);
        let volts = mid(bench, red) - mid(bench, black);
        let last = bench.settled().points.last();
        let carries = |node: usize| through_node(bench, node) >= FLOWS_A;
        let near = last.map_or_else(Vec::new, |p| p.joined(red, JOINS_OHMS));
        Self {
            volts,
            share: volts / supply,
            carries: carries(red),
            both_carry: carries(red) && carries(black),
            joined: [near.contains(&positive), near.contains(&0)],
        }
    }

    fn holds(&self, reason: Reason) -> bool {
        let full = self.share >= FULL;
        let nothing = self.share.abs() < NOTHING;
        let dropped = self.volts.abs() >= LOST_V;
        let [to_positive, to_negative] = self.joined;
        match reason {
            Reason::SupplyUnderLoad => full && self.carries,
            Reason::SupplyAtRest => full && !self.carries,
            Reason::Divided => !full && !nothing && self.share > 0.0,
            Reason::UsedUp => nothing && self.carries,
            Reason::NotReached => nothing && !self.carries && !to_positive && !to_negative,
            Reason::Grounded => nothing && to_negative,
            Reason::Dropped => dropped && self.both_carry,
            Reason::HeldByOpen => dropped && !self.both_carry,
            Reason::NoLoss => !dropped && self.both_carry,
            Reason::NothingFlows => !dropped && !self.both_carry,
        }
    }
}
