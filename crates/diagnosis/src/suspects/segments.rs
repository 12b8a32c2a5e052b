//! Stretches of a candidate's severity, between two machines each.

use std::sync::Arc;

use cimento_bench::Bench;

/// One end of a segment.
#[derive(Clone)]
pub(super) struct End {
    pub severity: f64,
    /// The machine, or one for each end of the wire where it matters where along it the fault sits.
    pub benches: Vec<Bench>,
}

/// A stretch of a candidate's severity.
#[derive(Clone)]
pub(super) struct Segment {
    /// The candidate it belongs to, by position among all.
    pub candidate: usize,
    /// The segment it was when the complaint had been seen.
    pub root: usize,
    pub ends: [Arc<End>; 2],
    /// Share of belief before anything is seen.
    pub weight: f64,
    /// How far what lies between may read beyond the ends, as a share of the reading or, of volts, of
    /// the system's: a resistance changed by a share moves nothing by more.
    pub margin: f64,
}

/// What is kept between two severities: it behaves as was seen.
pub(super) struct Kept {
    pub between: [f64; 2],
    pub ends: [Arc<End>; 2],
    pub margin: f64,
}

impl Kept {
    pub fn single(end: &Arc<End>) -> Self {
        Self::of([end, end], [true, true], true)
    }

    /// What lies between two ends, of which one or both behave as was seen, alike or across a cut. Of a cut whose one
    /// side does not, what does behaves as the other side, within the margin.
    pub fn of([a, b]: [&Arc<End>; 2], agree: [bool; 2], alike: bool) -> Self {
        let ends = match agree {
            [true, false] if !alike => [a, a],
            [false, true] if !alike => [b, b],
            _ => [a, b],
        };
        let gap = (b.severity / a.severity).ln().abs();
        Self {
            between: [a.severity, b.severity],
            ends: ends.map(Arc::clone),
            margin: if alike { 0.0 } else { gap },
        }
    }
}
