//! What a candidate says the oscilloscope shows, and whether a screen could come from it. Only what
//! changes evenly with the severity of a fault is held against a screen: how far a trace goes either
//! way, and its mean. Where the two ends of a segment differ in how often a trace pulses, or in whether
//! the trigger was found, what lies between may show anything.

use super::spans::Span;
use crate::bench::{Bench, BenchError};
use crate::instruments::{Capture, Scope, capture};

/// Two screens of one machine may differ by this share of the swing, and by so many volts or amperes.
const SHARE: f64 = 0.05;
const LEAST: f64 = 0.05;

/// What a segment says of a screen: most, least and mean of each channel in turn.
#[derive(Debug, Clone)]
pub(super) struct ScreenSpan {
    spans: Vec<Span>,
    /// Pulses of each channel, and whether the trigger was found.
    pulses: Vec<usize>,
    triggered: bool,
    /// What lies between the ends may show anything.
    open: bool,
}

fn of_one(capture: &Capture) -> ScreenSpan {
    let traces = capture.traces.iter();
    let features = traces.clone().flat_map(|t| {
        let f = &t.features;
        let slack = SHARE * (f.most - f.least) + LEAST;
        [f.most, f.least, f.mean].map(|v| Span::steady(v).spread(slack))
    });
    ScreenSpan {
        spans: features.collect(),
        pulses: traces.map(|t| t.features.pulses).collect(),
        triggered: capture.triggered,
        open: false,
    }
}

impl ScreenSpan {
    /// What the machines of one end show.
    pub fn of(benches: &[Bench<'_>], scope: &Scope) -> Result<Self, BenchError> {
        let mut whole: Option<Self> = None;
        for bench in benches {
            let screen = capture(bench, scope).map_or_else(
                |e| match e {
                    crate::instruments::TakeError::Bench(e) => Err(e),
                    // More volts than the leads stand: nobody gets to see this screen.
                    _ => Ok(None),
                },
                |c| Ok(Some(of_one(&c))),
            )?;
            let Some(screen) = screen else {
                return Ok(Self::anything(scope));
            };
            whole = Some(match whole {
                Some(other) => other.hull(&screen),
                None => screen,
            });
        }
        Ok(whole.unwrap_or_else(|| Self::anything(scope)))
    }

    fn anything(scope: &Scope) -> Self {
        Self {
            spans: vec![Span::steady(0.0).spread(f64::INFINITY); 3 * scope.channels.len()],
            pulses: Vec::new(),
            triggered: false,
            open: true,
        }
    }

    pub fn hull(mut self, other: &Self) -> Self {
        self.open |= other.open || self.pulses != other.pulses || self.triggered != other.triggered;
        for (span, with) in self.spans.iter_mut().zip(&other.spans) {
            *span = span.hull(*with);
        }
        self
    }

    /// Whether the segment could have shown a screen.
    pub fn agrees(&self, seen: &Capture) -> bool {
        let seen = of_one(seen);
        let mut both = self.spans.iter().zip(&seen.spans);
        let within = both.all(|(s, o)| s.least <= o.most && o.least <= s.most);
        self.open || within && self.pulses == seen.pulses && self.triggered == seen.triggered
    }

    /// How many features there are.
    pub fn features(&self) -> usize {
        self.spans.len()
    }

    /// What is said of one of them.
    pub fn feature(&self, n: usize) -> Span {
        if self.open {
            Span::steady(0.0).spread(f64::INFINITY)
        } else {
            self.spans[n]
        }
    }
}
