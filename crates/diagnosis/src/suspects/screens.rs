//! What a candidate says the oscilloscope shows, and whether a screen could come from it. Only what
//! changes evenly with the severity of a fault is held against a screen: how far a trace goes either
//! way, its mean, and how long a spark burns. Where the two ends of a segment differ in how often a trace pulses, or in whether
//! the trigger was found, what lies between may show anything.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use super::information::{Beliefs, information_gain};
use super::spans::Span;
use super::tracks::{End, Suspects};
use cimento_bench::instruments::{Capture, Function, Scope, capture};
use cimento_bench::{Bench, BenchError};

/// Two screens of one machine may differ by this share of the swing, and by so many volts or amperes.
const SHARE: f64 = 0.05;
const LEAST: f64 = 0.05;

/// The burning of a spark on two screens of one machine may differ by this share, and by so many
/// milliseconds.
const BURNS: f64 = 0.1;
const BURNS_LEAST_MS: f64 = 0.15;

/// What a segment says of a screen: most, least, mean and burning of each channel in turn.
#[derive(Debug, Clone)]
pub(super) struct ScreenSpan {
    spans: Vec<Span>,
    /// Pulses of each channel, and whether the trigger was found.
    pulses: Vec<usize>,
    triggered: bool,
    /// What lies between the ends may show anything.
    open: bool,
}

/// The screens of the living segments that were last worked out.
#[derive(Default)]
pub(super) struct Looked(Mutex<Option<(Scope, Arc<Vec<ScreenSpan>>)>>);

impl Clone for Looked {
    fn clone(&self) -> Self {
        Self(Mutex::new(self.last().clone()))
    }
}

impl Looked {
    fn last(&self) -> MutexGuard<'_, Option<(Scope, Arc<Vec<ScreenSpan>>)>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

fn of_one(capture: &Capture) -> ScreenSpan {
    let traces = capture.traces.iter();
    let features = traces.clone().flat_map(|t| {
        let f = &t.features;
        let slack = SHARE * (f.most - f.least) + LEAST;
        let burns_ms = f.burns_s.unwrap_or(0.0) * 1e3;
        [
            (f.most, slack),
            (f.least, slack),
            (f.mean, slack),
            (burns_ms, BURNS * burns_ms + BURNS_LEAST_MS),
        ]
        .map(|(v, slack)| Span::steady(v).spread(slack))
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
    pub fn of(benches: &[Bench], scope: &Scope) -> Result<Self, BenchError> {
        let mut whole: Option<Self> = None;
        for bench in benches {
            let screen = capture(bench, scope).map_or_else(
                |e| match e {
                    cimento_bench::instruments::TakeError::Bench(e) => Err(e),
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
            spans: vec![Span::steady(0.0).spread(f64::INFINITY); 4 * scope.channels.len()],
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

impl Suspects {
    /// What each living segment says that the oscilloscope shows. A screen is first weighed and then held
    /// against what was seen: it is worked out once for both.
    pub(super) fn screens(&self, scope: &Scope) -> Result<Arc<Vec<ScreenSpan>>, BenchError> {
        if let Some((last, screens)) = &*self.looked.last()
            && last == scope
        {
            return Ok(Arc::clone(screens));
        }
        let mut known: HashMap<*const End, ScreenSpan> = HashMap::new();
        let mut out = Vec::with_capacity(self.segments.len());
        for segment in &self.segments {
            let mut whole: Option<ScreenSpan> = None;
            for end in &segment.ends {
                let span = match known.get(&Arc::as_ptr(end)) {
                    Some(span) => span.clone(),
                    None => {
                        let span = ScreenSpan::of(&end.benches, scope)?;
                        known.insert(Arc::as_ptr(end), span.clone());
                        span
                    }
                };
                whole = Some(match whole {
                    Some(other) => other.hull(&span),
                    None => span,
                });
            }
            out.extend(whole);
        }
        let screens = Arc::new(out);
        *self.looked.last() = Some((scope.clone(), Arc::clone(&screens)));
        Ok(screens)
    }

    /// How much is learnt from a screen of the oscilloscope, in bits, before it is captured: from the one
    /// feature that tells most.
    ///
    /// # Errors
    /// As [`Suspects::follow`].
    pub fn information_from_screen(&self, scope: &Scope) -> Result<f64, BenchError> {
        let screens = self.screens(scope)?;
        let features = screens.first().map_or(0, ScreenSpan::features);
        let beliefs: Beliefs = self.beliefs().collect();
        let one = |n: usize| {
            let spans: Vec<Span> = screens.iter().map(|s| s.feature(n)).collect();
            information_gain(&beliefs, &spans, Function::DC_VOLTS)
        };
        Ok((0..features).map(one).fold(0.0, f64::max))
    }
}
