//! Candidates followed through an attempt.
//!
//! A candidate is a place, a mode and segments of severity. Each end of a segment has a bench of its
//! own that is put through everything the student's bench was put through. As long as both ends
//! stand in one signature (levels of relays, fuses and modules, motors standing or turning, the
//! points of a cycle), what lies between reads between them. When an action sets them apart, the
//! segment is cut where the signature changes; across the cut the span of both sides holds.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;
use std::sync::Arc;

use super::candidates::{Candidate, candidates};
use super::closer::tried;
use super::information::{Beliefs, Believed, entropy, information_gain};
use super::progress::Progress;
use super::room::Room;
use super::screens::Looked;
use super::segments::{End, Kept, Segment};
use super::spans::Span;
use super::table::Table;
use super::threads;
use crate::attempt::{Action, Answer, Evidence, Step, Supposed, perform, seen};
use crate::lesson::Lesson;
use cimento_bench::instruments::{Function, Meter, Reading, value_with};
use cimento_bench::{Bench, BenchError, Complaint, Shared};
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;
use cimento_model::units::Unit;

/// A cut is narrowed to this share of the severity; on a machine whose sparks have to be followed in
/// time, which is slow, only to the wider one, and what lies across the cut gets a margin for it.
const CUT: f64 = 1e-4;
const CUT_IN_TIME: f64 = 4e-3;
/// Where neither side behaves as what was seen, a band narrower than this is not looked for.
const BAND: f64 = 0.03;

/// What whoever waits is told meanwhile.
const TRYING: &str = "trying what could be wrong, the first of two";

/// The machines of one end with what was noticed of each.
type Tried = (Arc<End>, Vec<Complaint>);

/// A place that a step has ruled out, with what an instrument would have shown had the fault been
/// there; nothing to show when it was not a reading that ruled it out.
#[derive(Debug, Clone, PartialEq)]
pub struct RuledOut {
    pub place: Place,
    pub would_show: Option<Span>,
}

/// Everything that could still be wrong with a lesson's machine.
#[derive(Clone)]
pub struct Suspects {
    pub(super) lesson: Arc<Lesson>,
    pub(super) candidates: Arc<Vec<Candidate>>,
    /// The first so many candidates are single faults, each of its own.
    pub(super) singles: usize,
    pub(super) segments: Vec<Segment>,
    /// What was done since the complaint, to bring a new end to where the others stand.
    pub(super) history: Vec<Action>,
    /// The steps since the complaint that tell something.
    pub(super) evidence: Vec<Step>,
    /// Pairs have been opened.
    pub(super) paired: bool,
    /// The screens last worked out, of the segments as they are.
    pub(super) looked: Looked,
    meter: Meter,
    pub(super) shared: Shared,
    pub(super) roots: usize,
    /// What a cut is narrowed to, as a share of the severity.
    cut: f64,
}

/// What the discrete states of a machine are: levels, which motors turn, and which leads are on.
pub(super) type Signature = (Vec<Vec<(u64, bool)>>, usize);

pub(super) fn signature(bench: &Bench) -> Signature {
    let points = &bench.settled().points;
    let one = |p: &cimento_bench::Point| -> Vec<(u64, bool)> {
        p.parts.iter().map(|s| (s.level, s.speed > 0.0)).collect()
    };
    let mut out: Vec<_> = points.iter().map(one).collect();
    out.sort();
    out.dedup();
    (out, bench.state().jumpers.len())
}

/// What an instrument shows on a machine.
pub(super) fn shown(
    meter: &Meter,
    bench: &Bench,
    function: Function,
    red: Option<&str>,
    black: Option<&str>,
) -> Result<Span, BenchError> {
    let (value, wanders) = value_with(meter, bench, function, red, black)?;
    Ok(Span::shown(&value, wanders))
}

/// Makes things that stand in a row, the outermost first and then each between two that are there, so
/// that it may learn from them; nothing where what lies between two is not needed.
fn inward<T, E>(
    count: usize,
    mut make: impl FnMut(usize, Option<[&T; 2]>) -> Result<T, E>,
    needless: impl Fn(&T, &T) -> bool,
) -> Result<Vec<T>, E> {
    let mut made: Vec<Option<T>> = (0..count).map(|_| None).collect();
    let Some(last) = count.checked_sub(1) else {
        return Ok(Vec::new());
    };
    made[0] = Some(make(0, None)?);
    if last > 0 {
        made[last] = Some(make(last, None)?);
    }
    let mut open = vec![(0_usize, last)];
    while let Some((from, to)) = open.pop() {
        let middle = from.midpoint(to);
        if middle == from {
            continue;
        }
        let sides = [&made[from], &made[to]].map(Option::as_ref);
        let [Some(a), Some(b)] = sides else { continue };
        if needless(a, b) {
            continue;
        }
        made[middle] = Some(make(middle, Some([a, b]))?);
        open.extend([(from, middle), (middle, to)]);
    }
    Ok(made.into_iter().flatten().collect())
}

impl Suspects {
    /// The candidates that agree with the complaint.
    ///
    /// # Errors
    /// [`BenchError`] when one of the circuits has no solution.
    pub fn after_complaint(lesson: &Arc<Lesson>) -> Result<Self, BenchError> {
        Self::watched(lesson, &Progress::default())
    }

    /// The same under the eyes of whoever waits.
    ///
    /// # Errors
    /// As [`Suspects::after_complaint`], and [`BenchError::GivenUp`].
    pub fn watched(lesson: &Arc<Lesson>, progress: &Progress) -> Result<Self, BenchError> {
        let mut all = candidates(&lesson.circuit, lesson.condition());
        let singles = all.len();
        // What a sound machine shows too is no finding of a check.
        if lesson.job.is_check_up() {
            all.push(Candidate::sound());
        }
        // What the list of single faults does not hold is held beside it as one candidate: several
        // faults at once, or a short to another wire.
        if !lesson.faults.is_empty() && !all.iter().any(|c| c.holds(&lesson.faults)) {
            all.push(Candidate::of(&lesson.faults));
        }
        let mut out = Self {
            lesson: Arc::clone(lesson),
            candidates: Arc::new(all),
            singles,
            segments: Vec::new(),
            history: Vec::new(),
            evidence: Vec::new(),
            paired: false,
            looked: Looked::default(),
            meter: Meter::default(),
            shared: lesson.brought_in().shared().clone(),
            roots: 0,
            cut: match lesson.circuit.sparks() {
                true => CUT_IN_TIME,
                false => CUT,
            },
        };
        progress.begin(TRYING, out.candidates.len());
        let room = Room::default();
        let begun = threads::each(
            out.candidates.len(),
            || out.for_another_thread(),
            |own, n| {
                own.begin(n)?;
                progress.step()?;
                let begun = std::mem::take(&mut own.segments);
                // Neighbours share an end: of each the second is counted.
                let machines = begun.iter().flat_map(|s| &s.ends[1].benches);
                room.take(machines.map(Bench::bytes).sum())?;
                Ok::<_, BenchError>(begun)
            },
        )?;
        out.segments = begun.into_iter().flatten().collect();
        for (root, segment) in out.segments.iter_mut().enumerate() {
            segment.root = root;
        }
        out.roots = out.segments.len();
        out.open_pairs()?;
        Ok(out)
    }

    /// Stretches of the segments, of so many at least, that are cut where neighbours share no end: each can be
    /// followed by itself.
    pub(super) fn stretches(&self, least: usize) -> Vec<Range<usize>> {
        let mut out = Vec::new();
        let mut from = 0;
        for to in 1..=self.segments.len() {
            let together = |at: usize| {
                let [a, b] = [&self.segments[at - 1], &self.segments[at]];
                Arc::ptr_eq(&a.ends[1], &b.ends[0])
            };
            if to == self.segments.len() || to - from >= least && !together(to) {
                out.push(from..to);
                from = to;
            }
        }
        out
    }

    /// A stretch of the segments on its way to another state.
    pub(super) fn brought(
        &self,
        stretch: Range<usize>,
        actions: &[Action],
    ) -> Result<Self, BenchError> {
        let mut out = Self {
            lesson: Arc::clone(&self.lesson),
            candidates: Arc::clone(&self.candidates),
            segments: self.segments[stretch].to_vec(),
            history: self.history.clone(),
            evidence: self.evidence.clone(),
            looked: Looked::default(),
            shared: self.shared.clone(),
            // What a stretch lacks, the others have.
            paired: true,
            ..*self
        };
        for action in actions {
            out.act(action, &Answer::Noted)?;
        }
        Ok(out)
    }

    /// Those that began as some segments.
    pub(super) fn only(&self, roots: &BTreeSet<usize>) -> Self {
        let mut out = self.clone();
        out.segments.retain(|s| roots.contains(&s.root));
        out
    }

    /// Those that are in question: of a machine that comes in for a check what some measurement tells from a sound one,
    /// and that it is sound where that is an answer.
    pub(super) fn in_question(self, table: &Table) -> Self {
        let lesson = Arc::clone(&self.lesson);
        if !lesson.job.is_check_up() {
            return self;
        }
        let mut roots = table.findings(lesson.faults.is_empty());
        let own = |s: &&Segment| {
            let candidate = &self.candidates[s.candidate];
            candidate.holds(&lesson.faults) || s.candidate > self.singles
        };
        roots.extend(self.segments.iter().filter(own).map(|s| s.root));
        for root in self.sound_roots() {
            match lesson.job.may_be_sound() {
                true => roots.insert(root),
                false => roots.remove(&root),
            };
        }
        self.only(&roots)
    }

    /// What the machines of each segment's ends are heard to do when something is exchanged and the complaint
    /// tried again.
    pub(super) fn heard(&self, actions: &[Action]) -> Result<Vec<Vec<Complaint>>, BenchError> {
        let of_end = |end: &Arc<End>| {
            let each = end.benches.iter().map(|bench| {
                let mut bench = bench.clone();
                bench.share_with(&self.shared);
                tried(&mut bench, actions)
            });
            each.collect::<Result<Vec<_>, _>>()
        };
        let of_segment = |segment: &Segment| {
            let [a, b] = &segment.ends;
            let mut heard = of_end(a)?;
            if !Arc::ptr_eq(a, b) {
                heard.extend(of_end(b)?);
            }
            Ok(heard)
        };
        self.segments.iter().map(of_segment).collect()
    }

    /// The same suspects for another thread: with a solver of their own for what is done from here on.
    #[must_use]
    pub(super) fn for_another_thread(&self) -> Self {
        Self {
            shared: self.shared.for_another_thread(),
            ..self.clone()
        }
    }

    /// The segments of one candidate that behave as was seen.
    fn begin(&mut self, candidate: usize) -> Result<(), BenchError> {
        let candidates = Arc::clone(&self.candidates);
        let grid = &candidates[candidate].grid;
        // What a short takes of one half of a wave it may give to the other: dead, or of many ohms, it lets a
        // generator do what a short of one ohm does not.
        let mut parts = self.lesson.circuit.parts.iter();
        let uneven = candidates[candidate].leads_elsewhere() && parts.any(|p| p.kind.charges());
        let tried = inward(
            grid.len(),
            |n, sides: Option<[&Tried; 2]>| {
                self.tried(&grid[n], sides.map(|s| s.map(|(end, _)| &**end)))
            },
            |a, b| !uneven && self.apart(a, b),
        )?;
        let mut found = Vec::new();
        if let [(end, said)] = tried.as_slice()
            && said.iter().any(|s| s.same_as(&self.lesson.symptom))
        {
            found.push(Kept::single(end));
        }
        for pair in tried.windows(2) {
            let [a, b] = pair else { continue };
            self.between(candidate, a, b, &mut found)?;
        }
        for kept in found {
            let Candidate { prior, .. } = candidates[candidate];
            let [a, b] = kept.between;
            self.segments.push(Segment {
                candidate,
                root: 0,
                weight: prior * candidates[candidate].share(a, b),
                ends: kept.ends,
                margin: kept.margin,
            });
        }
        Ok(())
    }

    /// A machine with some faults after the customer's trial, and what it did; with the ends it lies
    /// between, if it does.
    fn tried(&self, faults: &[Fault], sides: Option<[&End; 2]>) -> Result<Tried, BenchError> {
        let (mut benches, mut said) = (Vec::new(), Vec::new());
        let along = Candidate::along(&self.lesson.circuit, faults);
        for (n, faults) in along.iter().enumerate() {
            let between = sides.map(|s| s.map(|end| &end.benches[n]));
            let (bench, heard) = self.lesson.trial().run_beside(
                &self.lesson.symptom,
                faults,
                &self.shared,
                between,
            )?;
            benches.push(bench);
            said.push(heard);
        }
        let severity = Candidate::severity(faults);
        Ok((Arc::new(End { severity, benches }), said))
    }

    /// Whether neither of two tried ends behaves as was seen, and nothing between them does: they behave alike,
    /// or do one thing alike that was not seen.
    fn apart(&self, a: &Tried, b: &Tried) -> bool {
        let seen = &self.lesson.symptom;
        let agrees = |end: &Tried| end.1.iter().any(|s| s.same_as(seen));
        let mut both = a.1.iter().zip(&b.1);
        !agrees(a)
            && !agrees(b)
            && both
                .all(|(a, b)| a.blown() == b.blown() && (a.same_as(b) || a.differs_alike(b, seen)))
    }

    /// Cuts what lies between two tried ends until each stretch behaves in one way, and keeps the
    /// stretches that behave as was seen.
    fn between(
        &self,
        candidate: usize,
        a: &Tried,
        b: &Tried,
        found: &mut Vec<Kept>,
    ) -> Result<(), BenchError> {
        let agree = [a, b].map(|end| end.1.iter().any(|s| s.same_as(&self.lesson.symptom)));
        let mut both = a.1.iter().zip(&b.1);
        let alike = both.all(|(a, b)| a.same_as(b) && a.blown() == b.blown());
        if !alike && self.apart(a, b) {
            return Ok(());
        }
        let gap = (b.0.severity / a.0.severity).ln().abs();
        let agrees = agree[0] || agree[1];
        // Of what the ends do otherwise, a machine between them may do some as the one and some as the other: which
        // of many lamps are dim changes within thousandths of an ohm.
        let mixed = || {
            let mut ends = a.1.iter().zip(&b.1);
            ends.any(|(a, b)| self.lesson.symptom.lies_between(a, b))
        };
        if alike || gap < self.cut || gap < BAND && !agrees && !mixed() {
            if agrees {
                found.push(Kept::of([&a.0, &b.0], agree, alike));
            }
            return Ok(());
        }
        let faults = self.candidates[candidate].at(a.0.severity, b.0.severity);
        let mid = self.tried(&faults, Some([&a.0, &b.0]))?;
        self.between(candidate, a, &mid, found)?;
        self.between(candidate, &mid, b, found)
    }

    /// Whether nothing at all may be wrong.
    pub fn may_be_sound(&self) -> bool {
        self.segments.iter().any(|s| self.says_sound(s))
    }

    fn says_sound(&self, segment: &Segment) -> bool {
        self.candidates[segment.candidate].is_sound()
    }

    /// The segments of the beginning that say that nothing is wrong.
    pub(super) fn sound_roots(&self) -> BTreeSet<usize> {
        let sound = self.segments.iter().filter(|s| self.says_sound(s));
        sound.map(|s| s.root).collect()
    }

    /// How many there are: places, and that nothing is wrong.
    pub fn possibilities(&self) -> usize {
        self.places().len() + usize::from(self.may_be_sound())
    }

    /// The places that hold a candidate.
    pub fn places(&self) -> BTreeSet<Place> {
        let held = self.segments.iter();
        held.flat_map(|s| self.candidates[s.candidate].places.iter().copied())
            .collect()
    }

    /// How many segments there were after the complaint.
    pub fn roots(&self) -> usize {
        self.roots
    }

    /// The segments of the beginning of which something is left.
    pub fn living_roots(&self) -> BTreeSet<usize> {
        self.segments.iter().map(|s| s.root).collect()
    }

    /// The faults in words that lie at a place and could still be, one for each mode.
    pub fn examples(&self, place: Place) -> Vec<String> {
        let mut out: Vec<String> = Vec::new();
        for segment in &self.segments {
            let candidate = &self.candidates[segment.candidate];
            if candidate.places.contains(&place) {
                // What was done to it since is not among what was wrong with it.
                let own = |f: &&Fault| f.places().any(|p| candidate.places.contains(&p));
                let faults = segment.ends[0].benches[0].faults().iter().filter(own);
                let text: Vec<String> = faults.map(|f| f.about(&self.lesson.circuit)).collect();
                out.push(text.join(" and "));
            }
        }
        out.dedup();
        out
    }

    /// What is believed of each place, and of none, as shares of what was believed before anything was seen.
    pub fn weights(&self) -> BTreeMap<Option<Place>, f64> {
        let mut out = BTreeMap::new();
        for segment in &self.segments {
            let places = &self.candidates[segment.candidate].places;
            for place in places {
                *out.entry(Some(*place)).or_insert(0.0) += segment.weight / places.len() as f64;
            }
            if places.is_empty() {
                *out.entry(None).or_insert(0.0) += segment.weight;
            }
        }
        out
    }

    /// The places at which some segments lie, with the mode of each.
    pub(super) fn modes(&self, roots: &BTreeSet<usize>) -> BTreeSet<(Place, &'static str)> {
        let mut out = BTreeSet::new();
        for segment in self.segments.iter().filter(|s| roots.contains(&s.root)) {
            let candidate = &self.candidates[segment.candidate];
            out.extend(candidate.places.iter().map(|p| (*p, candidate.mode)));
        }
        out
    }

    /// Bits of doubt in what is believed.
    pub fn doubt(&self) -> f64 {
        entropy(self.weights().values().copied())
    }

    /// How likely each place is to hold the fault, most likely first; the shares add up to one, with that of none.
    pub fn belief(&self) -> Vec<(Place, f64)> {
        let weights = self.weights();
        let total: f64 = weights.values().sum();
        let at_places = weights.into_iter().filter_map(|(p, w)| Some((p?, w)));
        let mut out: Vec<(Place, f64)> = at_places.map(|(p, w)| (p, w / total)).collect();
        out.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        out
    }

    /// The likeliest way in which a place may have failed.
    pub fn likeliest_mode(&self, place: Place) -> Option<&'static str> {
        let mut modes: Vec<(&'static str, f64)> = Vec::new();
        for segment in &self.segments {
            let candidate = &self.candidates[segment.candidate];
            if !candidate.places.contains(&place) {
                continue;
            }
            match modes.iter_mut().find(|(mode, _)| *mode == candidate.mode) {
                Some((_, weight)) => *weight += segment.weight,
                None => modes.push((candidate.mode, segment.weight)),
            }
        }
        let best = modes.into_iter().max_by(|a, b| a.1.total_cmp(&b.1));
        best.map(|(mode, _)| mode)
    }

    /// Puts every candidate through a step of the attempt and drops those that disagree with it.
    /// Returns the places that have gone with it.
    ///
    /// # Errors
    /// [`BenchError`] when a candidate's circuit has no solution in the new state.
    pub fn follow(&mut self, step: &Step) -> Result<Vec<RuledOut>, BenchError> {
        let before = self.places();
        let mut said: BTreeMap<Place, Span> = BTreeMap::new();
        match step.evidence() {
            Evidence::Nothing => {}
            Evidence::Machine => self.act(&step.action, &step.answer)?,
            Evidence::OfMeter(change) => change(&mut self.meter),
            Evidence::Reading { reading, range } => {
                let mut kept = Vec::with_capacity(self.segments.len());
                let spans = self.predict(reading)?;
                for (segment, span) in std::mem::take(&mut self.segments).into_iter().zip(spans) {
                    if span.agrees(reading, range) {
                        kept.push(segment);
                        continue;
                    }
                    for place in &self.candidates[segment.candidate].places {
                        let wider = said.get(place).map_or(span, |known| known.hull(span));
                        said.insert(*place, wider);
                    }
                }
                self.segments = kept;
                self.meter.fuse_blown |= reading.blew;
            }
            Evidence::Look { place, text } => {
                if let Some(place) = self.lesson.circuit.place(place) {
                    let shows = |e: &Arc<End>| e.benches.iter().any(|b| seen(b, place) == text);
                    self.segments.retain(|s| s.ends.iter().any(shows));
                }
            }
            Evidence::Screen { scope, capture } => {
                let screens = self.screens(scope)?;
                let segments = std::mem::take(&mut self.segments).into_iter();
                let both = segments.zip(screens.iter());
                let kept = both.filter(|(_, screen)| screen.agrees(capture));
                self.segments = kept.map(|(segment, _)| segment).collect();
            }
        }
        self.looked = Looked::default();
        self.evidence.push(step.clone());
        self.open_pairs()?;
        let left = self.places();
        let gone = before.difference(&left);
        Ok(gone
            .map(|place| RuledOut {
                place: *place,
                would_show: said.get(place).copied(),
            })
            .collect())
    }

    /// Does an action to every end, cuts the segments whose ends it sets apart, and drops those that
    /// answer otherwise.
    fn act(&mut self, action: &Action, answer: &Answer) -> Result<(), BenchError> {
        let segments = std::mem::take(&mut self.segments);
        let mut touched = false;
        let repeated = self.tries_again(action);
        let mut moved = Vec::with_capacity(segments.len());
        // Neighbours share an end: a row of segments is put through it as one.
        for row in segments.chunk_by(|a, b| Arc::ptr_eq(&a.ends[1], &b.ends[0])) {
            let repeats = self.is_untouched(row[0].candidate, repeated.as_deref());
            let mut ends = vec![&row[0].ends[0]];
            let mut stands = Vec::with_capacity(row.len());
            for segment in row {
                let first = ends.len() - 1;
                if !Arc::ptr_eq(&segment.ends[0], &segment.ends[1]) {
                    ends.push(&segment.ends[1]);
                }
                stands.push([first, ends.len() - 1]);
            }
            let through = inward(
                ends.len(),
                |n, sides: Option<[&(Arc<End>, bool); 2]>| {
                    let mut benches = ends[n].benches.clone();
                    let mut agrees = false;
                    for (at, bench) in benches.iter_mut().enumerate() {
                        bench.share_with(&self.shared);
                        if let Some([(a, _), (b, _)]) = sides {
                            bench.lies_between(&a.benches[at], &b.benches[at]);
                        }
                        let outcome = perform(bench, action)?;
                        touched |= outcome.done;
                        agrees |= self.is_as_seen(bench, &outcome, answer, repeats)?;
                    }
                    let severity = ends[n].severity;
                    Ok::<_, BenchError>((Arc::new(End { severity, benches }), agrees))
                },
                |_, _| false,
            )?;
            for (segment, stands) in row.iter().zip(stands) {
                let [a, b] = stands.map(|n| through[n].clone());
                moved.push((segment.clone(), a, b));
            }
        }
        if touched {
            self.history.push(action.clone());
        }
        for (segment, a, b) in moved {
            let repeats = self.is_untouched(segment.candidate, repeated.as_deref());
            self.split(&segment, a, b, (answer, repeats))?;
        }
        Ok(())
    }

    /// Cuts a segment where its ends have come to stand apart.
    fn split(
        &mut self,
        segment: &Segment,
        a: (Arc<End>, bool),
        b: (Arc<End>, bool),
        answer: (&Answer, bool),
    ) -> Result<(), BenchError> {
        let gap = (b.0.severity / a.0.severity).ln().abs();
        let mut both = a.0.benches.iter().zip(&b.0.benches);
        let alike = Arc::ptr_eq(&a.0, &b.0) || both.all(|(a, b)| signature(a) == signature(b));
        let single = self.candidates[segment.candidate].is_single();
        if alike || single && gap < self.cut {
            if a.1 || b.1 {
                let kept = Kept::of([&a.0, &b.0], [a.1, b.1], alike);
                self.segments.push(Segment {
                    margin: segment.margin.max(kept.margin),
                    ends: kept.ends,
                    ..segment.clone()
                });
            }
            return Ok(());
        }
        if !single {
            // The severities of several faults are no single axis to cut: each end stands for itself.
            for (end, agrees) in [a, b] {
                if agrees {
                    self.segments.push(Segment {
                        ends: [Arc::clone(&end), end],
                        weight: segment.weight / 2.0,
                        ..segment.clone()
                    });
                }
            }
            return Ok(());
        }
        let faults = self.candidates[segment.candidate].at(a.0.severity, b.0.severity);
        let mid = self.brought_here(&faults, answer, [&a.0, &b.0])?;
        let half = Segment {
            weight: segment.weight / 2.0,
            ..segment.clone()
        };
        self.split(&half, a, mid.clone(), answer)?;
        self.split(&half, mid, b, answer)
    }

    /// A machine with some faults put through everything so far, and whether it answered the last
    /// action as was seen.
    fn brought_here(
        &self,
        faults: &[Fault],
        (answer, repeats): (&Answer, bool),
        sides: [&End; 2],
    ) -> Result<(Arc<End>, bool), BenchError> {
        let (end, _) = self.tried(faults, Some(sides))?;
        let mut benches = end.benches.clone();
        let mut agrees = false;
        for bench in &mut benches {
            let mut last = None;
            for action in &self.history {
                last = Some(perform(bench, action)?);
            }
            agrees |= match last {
                Some(last) => self.is_as_seen(bench, &last, answer, repeats)?,
                None => true,
            };
        }
        let severity = end.severity;
        Ok((Arc::new(End { severity, benches }), agrees))
    }

    /// What each living segment says of a reading: the span between its two ends.
    fn predict(&self, reading: &Reading) -> Result<Vec<Span>, BenchError> {
        self.spans(
            reading.function,
            reading.red.as_deref(),
            reading.black.as_deref(),
        )
    }

    /// What each living segment says that an instrument shows at its leads.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit has no solution with the instrument in it.
    pub fn spans(
        &self,
        function: Function,
        red: Option<&str>,
        black: Option<&str>,
    ) -> Result<Vec<Span>, BenchError> {
        let mut spans = self.say(&[(function, red, black)])?;
        Ok(spans.pop().unwrap_or_default())
    }

    /// What each living segment says that instruments show at their leads, for each of them: a machine shows one
    /// after the other, so that it is solved once.
    pub(super) fn say(
        &self,
        held: &[(Function, Option<&str>, Option<&str>)],
    ) -> Result<Vec<Vec<Span>>, BenchError> {
        let show = |bench: &Bench| -> Result<Vec<Span>, BenchError> {
            let one = |(function, red, black): &(Function, _, _)| {
                shown(&self.meter, bench, *function, *red, *black)
            };
            held.iter().map(one).collect()
        };
        let predict = |end: &End| -> Result<Vec<Span>, BenchError> {
            let mut spans = show(&end.benches[0])?;
            for bench in &end.benches[1..] {
                let more = spans.iter_mut().zip(show(bench)?);
                more.for_each(|(span, other)| *span = span.hull(other));
            }
            Ok(spans)
        };
        let system = |function: Function| match function.unit() {
            Unit::Volt => self.lesson.circuit.doc.system_v,
            _ => 0.0,
        };
        let mut out = vec![Vec::with_capacity(self.segments.len()); held.len()];
        let mut last: Option<(*const End, Vec<Span>)> = None;
        for segment in &self.segments {
            let [a, b] = &segment.ends;
            // Neighbours share an end.
            let first = match last.take() {
                Some((end, spans)) if end == Arc::as_ptr(a) => spans,
                _ => predict(a)?,
            };
            let second = match Arc::ptr_eq(a, b) {
                true => first.clone(),
                false => predict(b)?,
            };
            for (n, (function, ..)) in held.iter().enumerate() {
                let both = first[n].hull(second[n]);
                out[n].push(both.widened(segment.margin, system(*function)));
            }
            last = Some((Arc::as_ptr(b), second));
        }
        Ok(out)
    }

    /// What an instrument shows when a fault is there that a student supposes: of every severity that
    /// could still be, and where none could, of the whole range that is modelled. None for a fault that
    /// is not among the candidates.
    ///
    /// # Errors
    /// As [`Suspects::follow`].
    pub fn supposing(
        &self,
        fault: &Supposed,
        reading: &Reading,
    ) -> Result<Option<Span>, BenchError> {
        let place = self.lesson.circuit.place(&fault.place);
        // A pair has the mode of its first fault and the places of both: it is not what is supposed.
        let is_it = |c: &Candidate| {
            c.is_single() && c.mode == fault.mode && place.is_some_and(|p| c.places.contains(&p))
        };
        let hull = |all: Option<Span>, one: Span| Some(all.map_or(one, |all| all.hull(one)));
        let mut known: Option<Span> = None;
        let spans = self.predict(reading)?;
        for (segment, span) in self.segments.iter().zip(spans) {
            if is_it(&self.candidates[segment.candidate]) {
                known = hull(known, span);
            }
        }
        if known.is_some() {
            return Ok(known);
        }
        let (red, black) = (reading.red.as_deref(), reading.black.as_deref());
        for candidate in self.candidates.iter().filter(|c| is_it(c)) {
            for faults in &candidate.grid {
                let (mut bench, _) = self.lesson.trial().run(faults, &self.shared)?;
                for action in &self.history {
                    perform(&mut bench, action)?;
                }
                // One that is ruled out may have gone its own way: an engine that ran on.
                let living = self.segments.iter().find_map(|s| s.ends[0].benches.first());
                if let Some(stands) = living.map(Bench::state)
                    && bench.state() != stands
                {
                    bench.set(stands.clone())?;
                }
                let span = shown(&self.meter, &bench, reading.function, red, black)?;
                known = hull(known, span);
            }
        }
        Ok(known)
    }

    /// Root, place and belief of each living segment.
    pub(super) fn beliefs(&self) -> impl Iterator<Item = Believed> {
        self.segments.iter().map(|s| Believed {
            root: s.root,
            place: self.candidates[s.candidate].places.first().copied(),
            weight: s.weight,
        })
    }

    /// The beginning and the place of each living segment.
    pub(super) fn segment_places(&self) -> Vec<(usize, Place)> {
        let all = self.segments.iter();
        let places = |s: &Segment| {
            let root = s.root;
            let places = self.candidates[s.candidate].places.clone();
            places.into_iter().map(move |p| (root, p))
        };
        all.flat_map(places).collect()
    }

    /// How much is learnt from a reading, in bits, before it is taken.
    ///
    /// # Errors
    /// As [`Suspects::follow`].
    pub fn information_gain(&self, reading: &Reading) -> Result<f64, BenchError> {
        let spans = self.predict(reading)?;
        let beliefs: Beliefs = self.beliefs().collect();
        Ok(information_gain(&beliefs, &spans, Some(reading.function)))
    }

    /// The lesson whose machine this is about.
    pub(super) fn lesson(&self) -> &Arc<Lesson> {
        &self.lesson
    }

    /// Whether a fuse has blown in one of the machines that could be.
    pub(super) fn may_have_blown(&self) -> bool {
        let circuit = &self.lesson.circuit;
        let blown = |b: &Bench| {
            let parts = circuit.parts.iter().zip(b.parts());
            parts
                .into_iter()
                .any(|(p, s)| p.kind.is_fuse() && s.level != 0)
        };
        let mut all = self.segments.iter().flat_map(|s| &s.ends[0].benches);
        all.any(blown)
    }
}
