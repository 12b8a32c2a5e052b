//! What a candidate says the oscilloscope shows, and whether a screen could come from it. Only what
//! changes evenly with the severity of a fault is held against a screen: how far a trace goes either
//! way, its mean, and how long a spark burns. Where the two ends of a segment differ in how often a trace pulses, or in
//! whether the trigger was found, what lies between may pulse as it likes, and yet goes about as far as the ends.

use std::collections::BTreeSet;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use super::information::{Beliefs, information_gain};
use super::spans::Span;
use super::tracks::Suspects;
use cimento_bench::instruments::{Capture, Function, Probe, Scope, Trace, capture, captures};
use cimento_bench::{Bench, BenchError};
use cimento_model::units::Unit;

/// Two screens of one machine may differ by this share of the swing, and by so many volts or amperes.
const SHARE: f64 = 0.05;
const LEAST: f64 = 0.05;

/// The burning of a spark on two screens of one machine may differ by this share, and by so many
/// milliseconds.
const BURNS: f64 = 0.1;
const BURNS_LEAST_MS: f64 = 0.15;

/// What lies between ends that pulse differently may go this share of their swing farther than both.
const FARTHER: f64 = 0.1;

/// What loads least of the probes of a glance, in ohms.
const LOADS_OHMS: f64 = 2e6;

/// Features of a channel.
const FEATURES: usize = 4;

/// What a segment says of a screen: most, least, mean and burning of each channel in turn.
#[derive(Debug, Clone)]
pub(super) struct ScreenSpan {
    spans: Vec<Span>,
    /// Pulses of each channel, and whether the trigger was found.
    pulses: Vec<usize>,
    triggered: bool,
    /// What lies between the ends may pulse as it likes.
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

fn overlap(a: &Span, b: &Span) -> bool {
    a.least <= b.most && b.least <= a.most
}

fn of_one(traces: &[Trace], triggered: bool) -> ScreenSpan {
    let traces = traces.iter();
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
        triggered,
        open: false,
    }
}

/// What many screens and peaks would show in one look that loads nothing. Where a probe would load what it
/// touches, anything between that and nothing is held possible.
#[derive(Clone)]
pub(super) struct Glance {
    pub screens: Vec<ScreenSpan>,
    pub peaks: Vec<Span>,
}

impl Glance {
    fn of(bench: &Bench, scopes: &[Scope]) -> Result<Self, BenchError> {
        let traces = captures(bench, scopes)?;
        let node = |id: &str| bench.circuit.test_point(id).map_or(0, |p| p.node);
        let loads = |scope: &Scope| match &scope.channels[..] {
            [Probe::Leads { red, .. }] => !bench.hardly_loads(node(red), 0, LOADS_OHMS),
            _ => false,
        };
        let nothing = |span: Span| span.hull(Span::steady(0.0));
        let screens = scopes
            .iter()
            .zip(&traces)
            .map(|(scope, trace)| match trace {
                Some(trace) => {
                    let mut one = of_one(std::slice::from_ref(trace), false);
                    if loads(scope) {
                        one.spans.iter_mut().for_each(|s| *s = nothing(*s));
                    }
                    one
                }
                None => ScreenSpan::anything(scope),
            });
        let peak = |(scope, trace): (&Scope, &Option<Trace>)| match trace {
            Some(t) => {
                let most = t.features.most.abs().max(t.features.least.abs());
                let span = Span::steady(most).widened(SHARE, 0.0);
                if loads(scope) { nothing(span) } else { span }
            }
            None => Span::steady(0.0).spread(f64::INFINITY),
        };
        Ok(Self {
            screens: screens.collect(),
            peaks: scopes.iter().zip(&traces).map(peak).collect(),
        })
    }

    fn hull(mut self, other: &Self) -> Self {
        let screens = std::mem::take(&mut self.screens).into_iter();
        self.screens = screens
            .zip(&other.screens)
            .map(|(a, b)| a.hull(b))
            .collect();
        let both = self.peaks.iter_mut().zip(&other.peaks);
        both.for_each(|(a, b)| *a = a.hull(*b));
        self
    }

    /// Whether two say the same, as far as a screen is read.
    fn same(&self, other: &Self) -> bool {
        let mut both = self.screens.iter().zip(&other.screens);
        both.all(|(a, b)| a.open == b.open && a.confusable(b))
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
                |c| Ok(Some(of_one(&c.traces, c.triggered))),
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

    pub fn anything(scope: &Scope) -> Self {
        Self {
            spans: vec![Span::steady(0.0).spread(f64::INFINITY); FEATURES * scope.channels.len()],
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
        let seen = of_one(&seen.traces, seen.triggered);
        if self.open {
            let mut channels = self.spans.chunks(FEATURES).zip(seen.spans.chunks(FEATURES));
            return channels.all(|(own, seen)| {
                let farther = FARTHER * (own[0].most - own[1].least);
                let mut how_far = own.iter().zip(seen).take(2);
                how_far.all(|(s, o)| overlap(&s.spread(farther), o))
            });
        }
        let mut both = self.spans.iter().zip(&seen.spans);
        let alike = self.pulses == seen.pulses && self.triggered == seen.triggered;
        alike && both.all(|(s, o)| overlap(s, o))
    }

    /// How much is learnt from one of the screens, in bits: from the one feature that tells most.
    pub fn information_gain(beliefs: &Beliefs, screens: &[Self]) -> f64 {
        let features = screens.first().map_or(0, Self::features);
        let one = |n: usize| {
            let spans: Vec<Span> = screens.iter().map(|s| s.feature(n)).collect();
            information_gain(beliefs, &spans, Some(Function::DC_VOLTS))
        };
        (0..features).map(one).fold(0.0, f64::max)
    }

    /// Whether one screen could come from either.
    fn confusable(&self, other: &Self) -> bool {
        let mut both = self.spans.iter().zip(&other.spans);
        let within = both.all(|(a, b)| overlap(a, b));
        let alike = self.pulses == other.pulses && self.triggered == other.triggered;
        self.open || other.open || within && alike
    }

    /// Screens that can't be told apart, as one, in words.
    pub fn joined(living: impl Iterator<Item = (usize, Self)>) -> Vec<(String, BTreeSet<usize>)> {
        let mut out: Vec<(Self, BTreeSet<usize>)> = Vec::new();
        for (root, screen) in living {
            let mut joined = (screen, BTreeSet::from([root]));
            let (same, apart): (Vec<_>, Vec<_>) =
                out.into_iter().partition(|(s, _)| joined.0.confusable(s));
            for (s, roots) in same {
                joined.0 = joined.0.hull(&s);
                joined.1.extend(roots);
            }
            out = apart;
            out.push(joined);
        }
        out.into_iter()
            .map(|(s, roots)| (s.text(), roots))
            .collect()
    }

    /// "up to 320 V to 410 V, 2 pulses" of each channel.
    fn text(&self) -> String {
        if self.open {
            return "anything".to_owned();
        }
        let channels = self.spans.chunks(FEATURES).zip(&self.pulses);
        let one = |(spans, pulses): (&[Span], &usize)| {
            format!("up to {}, {pulses} pulses", spans[0].text(Unit::Volt))
        };
        channels.map(one).collect::<Vec<_>>().join("; ")
    }

    /// How many features there are.
    fn features(&self) -> usize {
        self.spans.len()
    }

    /// What is said of one of them.
    fn feature(&self, n: usize) -> Span {
        if self.open {
            Span::steady(0.0).spread(f64::INFINITY)
        } else {
            self.spans[n]
        }
    }
}

impl Suspects {
    /// What each living segment says of many screens and peaks at once.
    pub(super) fn glance(&self, scopes: &[Scope]) -> Result<Vec<Glance>, BenchError> {
        let of = |benches: &[Bench]| -> Result<Glance, BenchError> {
            let mut whole: Option<Glance> = None;
            for bench in benches {
                let one = Glance::of(bench, scopes)?;
                whole = Some(match whole {
                    Some(other) => other.hull(&one),
                    None => one,
                });
            }
            Ok(whole.unwrap_or(Glance {
                screens: scopes.iter().map(ScreenSpan::anything).collect(),
                peaks: vec![Span::steady(0.0).spread(f64::INFINITY); scopes.len()],
            }))
        };
        self.of_each_segment(of, Glance::hull, Glance::same)
    }

    /// What is said of each living segment, from what is said of the machines of its ends. In a row of segments
    /// the outermost ends are asked first; what lies between two that say the same says it too.
    fn of_each_segment<T: Clone>(
        &self,
        of: impl Fn(&[Bench]) -> Result<T, BenchError>,
        hull: impl Fn(T, &T) -> T,
        same: impl Fn(&T, &T) -> bool,
    ) -> Result<Vec<T>, BenchError> {
        let mut out = Vec::with_capacity(self.segments.len());
        for row in self
            .segments
            .chunk_by(|a, b| Arc::ptr_eq(&a.ends[1], &b.ends[0]))
        {
            let mut ends = vec![&row[0].ends[0]];
            ends.extend(row.iter().map(|s| &s.ends[1]));
            let last = ends.len() - 1;
            let mut said: Vec<Option<T>> = vec![None; ends.len()];
            let first = of(&ends[0].benches)?;
            said[last] = Some(match Arc::ptr_eq(ends[0], ends[last]) {
                true => first.clone(),
                false => of(&ends[last].benches)?,
            });
            said[0] = Some(first);
            let mut open = vec![(0, last)];
            while let Some((from, to)) = open.pop() {
                let (Some(a), Some(b)) = (&said[from], &said[to]) else {
                    continue;
                };
                let middle = usize::midpoint(from, to);
                if middle == from {
                    continue;
                }
                if same(a, b) {
                    let both = hull(a.clone(), b);
                    said[from + 1..to].fill(Some(both));
                } else {
                    said[middle] = Some(of(&ends[middle].benches)?);
                    open.extend([(from, middle), (middle, to)]);
                }
            }
            let said: Vec<T> = said.into_iter().flatten().collect();
            let each = row.iter().enumerate();
            out.extend(
                each.map(|(n, s)| match Arc::ptr_eq(&s.ends[0], &s.ends[1]) {
                    true => said[n].clone(),
                    false => hull(said[n].clone(), &said[n + 1]),
                }),
            );
        }
        Ok(out)
    }

    /// What each living segment says that the oscilloscope shows. A screen is first weighed and then held
    /// against what was seen: it is worked out once for both.
    pub(super) fn screens(&self, scope: &Scope) -> Result<Arc<Vec<ScreenSpan>>, BenchError> {
        if let Some((last, screens)) = &*self.looked.last()
            && last == scope
        {
            return Ok(Arc::clone(screens));
        }
        let out = self.of_each_segment(
            |benches| ScreenSpan::of(benches, scope),
            ScreenSpan::hull,
            // What was seen is held against every severity.
            |_, _| false,
        )?;
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
        let beliefs: Beliefs = self.beliefs().collect();
        Ok(ScreenSpan::information_gain(&beliefs, &screens))
    }
}
