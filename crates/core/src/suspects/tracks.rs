//! Candidates followed through an attempt.
//!
//! A candidate is a place, a mode and segments of severity. Each end of a segment has a bench of its
//! own that is put through everything the student's bench was put through. As long as both ends
//! stand in one signature (levels of relays, fuses and modules, motors standing or turning, the
//! points of a cycle), what lies between reads between them. When an action sets them apart, the
//! segment is cut where the signature changes; across the cut the span of both sides holds.

use std::cell::RefCell;
use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::rc::Rc;

use cimento_solver::Solver;

use super::candidates::{Candidate, candidates};
use super::spans::Span;
use super::worth::{Guess, worth};
use crate::attempt::{Action, Answer, Lesson, Session, Step, perform, seen};
use crate::bench::{Bench, BenchError, Complaint, complaint};
use crate::circuit::Place;
use crate::faults::Fault;
use crate::instruments::{Function, Meter, Range, Reading, TakeError, take_with};

/// A cut is narrowed to this share of the severity.
const CUT: f64 = 1e-4;
/// Where neither side behaves as what was seen, a band narrower than this is not looked for.
const BAND: f64 = 0.03;

/// One end of a segment.
#[derive(Clone)]
struct End<'l> {
    severity: f64,
    /// The machine, or one for each end of the wire where it matters where along it the fault sits.
    benches: Vec<Bench<'l>>,
}

/// The machines of one end with what was noticed of each.
type Tried<'l> = (Rc<End<'l>>, Vec<Complaint>);

/// A stretch of a candidate's severity.
#[derive(Clone)]
struct Segment<'l> {
    /// The candidate it belongs to, by position in [`Suspects::candidates`].
    candidate: usize,
    /// The segment it was when the complaint had been seen.
    root: usize,
    ends: [Rc<End<'l>>; 2],
    /// Share of belief before anything is seen.
    weight: f64,
}

/// A place that a step has ruled out, with what an instrument would have shown had the fault been
/// there; nothing to show when it was not a reading that ruled it out.
#[derive(Debug, Clone, PartialEq)]
pub struct RuledOut {
    pub place: Place,
    pub would_show: Option<Span>,
}

/// Everything that could still be wrong with a lesson's machine.
#[derive(Clone)]
pub struct Suspects<'l> {
    lesson: &'l Lesson,
    candidates: Rc<Vec<Candidate>>,
    segments: Vec<Segment<'l>>,
    /// What was done since the complaint, to bring a new end to where the others stand.
    history: Vec<Action>,
    meter: Meter,
    solver: Rc<RefCell<Solver>>,
    roots: usize,
}

/// What the discrete states of a machine are: levels, which motors turn, and which leads are on.
type Signature = (Vec<Vec<(u64, bool)>>, usize);

fn signature(bench: &Bench<'_>) -> Signature {
    let points = &bench.settled().points;
    let one = |p: &crate::bench::Point| -> Vec<(u64, bool)> {
        p.parts.iter().map(|s| (s.level, s.speed > 0.0)).collect()
    };
    let mut out: Vec<_> = points.iter().map(one).collect();
    out.sort();
    out.dedup();
    (out, bench.state().jumpers.len())
}

/// What came of an action on one of the machines that could be.
struct Outcome {
    done: bool,
    said: Option<Complaint>,
    blew: bool,
}

impl Outcome {
    /// Whether it is what the student saw.
    fn answers(&self, answer: &Answer) -> bool {
        match answer {
            Answer::Complaint { complaint } => {
                self.said.as_ref().is_some_and(|s| s.same_as(complaint))
            }
            Answer::LeadBlew { .. } => self.blew,
            _ => !self.blew,
        }
    }
}

/// Does an action, the trial included.
fn go_through(bench: &mut Bench<'_>, action: &Action) -> Result<Outcome, BenchError> {
    if matches!(action, Action::TryComplaint) {
        return Ok(Outcome {
            done: true,
            said: Some(complaint(bench)?),
            blew: false,
        });
    }
    let outcome = perform(bench, action)?;
    Ok(Outcome {
        done: outcome.done,
        said: None,
        blew: outcome.lead_blew,
    })
}

/// Whether an action is done to the machine, and not only put on record.
fn touches(action: &Action) -> bool {
    !matches!(
        action,
        Action::Judge { .. }
            | Action::Clear { .. }
            | Action::Suspect { .. }
            | Action::Note { .. }
            | Action::NameFault { .. }
            | Action::HandIn
    )
}

impl<'l> Suspects<'l> {
    /// The candidates that agree with the complaint.
    ///
    /// # Errors
    /// [`BenchError`] when one of the circuits has no solution.
    pub fn after_complaint(lesson: &'l Lesson) -> Result<Self, BenchError> {
        let seen = Session::complaint_of(lesson)?;
        let mut all = candidates(&lesson.circuit, lesson.condition());
        // What the list of single faults does not hold is held beside it as one candidate: several
        // faults at once, or a short to another wire.
        if !all.iter().any(|c| c.holds(&lesson.faults)) {
            all.push(Candidate::of(&lesson.faults));
        }
        let mut out = Self {
            lesson,
            candidates: Rc::new(all),
            segments: Vec::new(),
            history: Vec::new(),
            meter: Meter::default(),
            solver: Rc::new(RefCell::new(Solver::new())),
            roots: 0,
        };
        for n in 0..out.candidates.len() {
            out.begin(n, &seen)?;
        }
        for (root, segment) in out.segments.iter_mut().enumerate() {
            segment.root = root;
        }
        out.roots = out.segments.len();
        Ok(out)
    }

    /// The segments of one candidate that behave as was seen.
    fn begin(&mut self, candidate: usize, seen: &Complaint) -> Result<(), BenchError> {
        let candidates = Rc::clone(&self.candidates);
        let grid = &candidates[candidate].grid;
        let mut tried = Vec::new();
        for faults in grid {
            tried.push(self.tried(faults)?);
        }
        let mut found = Vec::new();
        if let [(end, said)] = tried.as_slice()
            && said.iter().any(|s| s.same_as(seen))
        {
            found.push([Rc::clone(end), Rc::clone(end)]);
        }
        for pair in tried.windows(2) {
            let [a, b] = pair else { continue };
            self.between(candidate, a, b, seen, &mut found)?;
        }
        let span = |ends: &[Rc<End<'_>>; 2]| {
            candidates[candidate].share(ends[0].severity, ends[1].severity)
        };
        for ends in found {
            self.segments.push(Segment {
                candidate,
                root: 0,
                weight: candidates[candidate].prior * span(&ends),
                ends,
            });
        }
        Ok(())
    }

    /// A machine with some faults after the customer's trial, and what it did.
    fn tried(&self, faults: &[Fault]) -> Result<Tried<'l>, BenchError> {
        let (mut benches, mut said) = (Vec::new(), Vec::new());
        for faults in Candidate::along(&self.lesson.circuit, faults) {
            let (bench, heard) = Session::tried_with(self.lesson, &faults, &self.solver)?;
            benches.push(bench);
            said.push(heard);
        }
        let severity = Candidate::severity(faults);
        Ok((Rc::new(End { severity, benches }), said))
    }

    /// Cuts what lies between two tried ends until each stretch behaves in one way, and keeps the
    /// stretches that behave as was seen.
    fn between(
        &self,
        candidate: usize,
        a: &Tried<'l>,
        b: &Tried<'l>,
        seen: &Complaint,
        found: &mut Vec<[Rc<End<'l>>; 2]>,
    ) -> Result<(), BenchError> {
        let agree = [a, b].map(|end| end.1.iter().any(|s| s.same_as(seen)));
        let mut both = a.1.iter().zip(&b.1);
        let alike = both.all(|(a, b)| a.same_as(b) && a.blown() == b.blown());
        let gap = (b.0.severity / a.0.severity).ln().abs();
        let enough = if agree[0] || agree[1] { CUT } else { BAND };
        if alike || gap < enough {
            if agree[0] || agree[1] {
                found.push([Rc::clone(&a.0), Rc::clone(&b.0)]);
            }
            return Ok(());
        }
        let faults = self.candidates[candidate].at(a.0.severity, b.0.severity);
        let mid = self.tried(&faults)?;
        self.between(candidate, a, &mid, seen, found)?;
        self.between(candidate, &mid, b, seen, found)
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
                let faults = segment.ends[0].benches[0].faults().iter();
                let text: Vec<String> = faults.map(|f| f.about(&self.lesson.circuit)).collect();
                out.push(text.join(" and "));
            }
        }
        out.dedup();
        out
    }

    /// How likely each place is to hold the fault, most likely first; the shares add up to one.
    pub fn belief(&self) -> Vec<(Place, f64)> {
        let total: f64 = self.segments.iter().map(|s| s.weight).sum();
        let mut out: Vec<(Place, f64)> = Vec::new();
        for segment in &self.segments {
            let place = self.candidates[segment.candidate].places[0];
            match out.iter_mut().find(|(p, _)| *p == place) {
                Some((_, share)) => *share += segment.weight / total,
                None => out.push((place, segment.weight / total)),
            }
        }
        out.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        out
    }

    /// Puts every candidate through a step of the attempt and drops those that disagree with it.
    /// Returns the places that have gone with it.
    ///
    /// # Errors
    /// [`BenchError`] when a candidate's circuit has no solution in the new state.
    pub fn follow(&mut self, step: &Step) -> Result<Vec<RuledOut>, BenchError> {
        let before = self.places();
        let mut said: BTreeMap<Place, Span> = BTreeMap::new();
        match (&step.action, &step.answer) {
            (Action::ZeroLeads, _) => self.meter.zeroed = true,
            (Action::RenewMeterFuse, _) => self.meter.fuse_blown = false,
            (Action::TakeReading { range, .. }, Answer::Reading { reading }) => {
                let range = range.map(Range);
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
            (Action::Inspect { place }, Answer::Seen { text }) => {
                if let Some(place) = self.lesson.circuit.place(place) {
                    let shows = |e: &Rc<End<'_>>| e.benches.iter().any(|b| seen(b, place) == *text);
                    self.segments.retain(|s| s.ends.iter().any(shows));
                }
            }
            (action, answer) if touches(action) => self.act(action, answer)?,
            _ => {}
        }
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
        // Neighbours share an end: each is put through it once.
        let mut done: HashMap<*const End<'l>, (Rc<End<'l>>, bool)> = HashMap::new();
        let mut segments = std::mem::take(&mut self.segments);
        let mut touched = false;
        let mut work = |end: &Rc<End<'l>>| -> Result<(Rc<End<'l>>, bool), BenchError> {
            let key = Rc::as_ptr(end);
            if let Some(known) = done.get(&key) {
                return Ok(known.clone());
            }
            let mut benches = end.benches.clone();
            let mut agrees = false;
            for bench in &mut benches {
                let outcome = go_through(bench, action)?;
                touched |= outcome.done;
                agrees |= outcome.answers(answer);
            }
            let severity = end.severity;
            let new = Rc::new(End { severity, benches });
            done.insert(key, (Rc::clone(&new), agrees));
            Ok((new, agrees))
        };
        let mut moved = Vec::new();
        for segment in segments.drain(..) {
            let [a, b] = [work(&segment.ends[0])?, work(&segment.ends[1])?];
            moved.push((segment, a, b));
        }
        if touched {
            self.history.push(action.clone());
        }
        for (segment, a, b) in moved {
            self.split(&segment, a, b, answer)?;
        }
        Ok(())
    }

    /// Cuts a segment where its ends have come to stand apart.
    fn split(
        &mut self,
        segment: &Segment<'l>,
        a: (Rc<End<'l>>, bool),
        b: (Rc<End<'l>>, bool),
        answer: &Answer,
    ) -> Result<(), BenchError> {
        let gap = (b.0.severity / a.0.severity).ln().abs();
        let mut both = a.0.benches.iter().zip(&b.0.benches);
        let alike = Rc::ptr_eq(&a.0, &b.0) || both.all(|(a, b)| signature(a) == signature(b));
        if alike || gap < CUT {
            if a.1 || b.1 {
                self.segments.push(Segment {
                    ends: [a.0, b.0],
                    ..segment.clone()
                });
            }
            return Ok(());
        }
        let faults = self.candidates[segment.candidate].at(a.0.severity, b.0.severity);
        let mid = self.brought_here(&faults, answer)?;
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
        answer: &Answer,
    ) -> Result<(Rc<End<'l>>, bool), BenchError> {
        let (end, _) = self.tried(faults)?;
        let mut benches = end.benches.clone();
        let mut agrees = false;
        for bench in &mut benches {
            let mut last = None;
            for action in &self.history {
                last = Some(go_through(bench, action)?);
            }
            agrees |= last.is_none_or(|l| l.answers(answer));
        }
        let severity = end.severity;
        Ok((Rc::new(End { severity, benches }), agrees))
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
        let one =
            |bench: &Bench<'_>| match take_with(&self.meter, bench, function, None, red, black) {
                Ok(reading) => Ok(Span::of(&reading)),
                Err(TakeError::Bench(e)) => Err(e),
                Err(named) => Err(BenchError::NoSolution(named.to_string())),
            };
        let predict = |end: &End<'_>| -> Result<Span, BenchError> {
            let mut span = one(&end.benches[0])?;
            for bench in &end.benches[1..] {
                span = span.hull(one(bench)?);
            }
            Ok(span)
        };
        let mut last: Option<(*const End<'_>, Span)> = None;
        let mut out = Vec::with_capacity(self.segments.len());
        for segment in &self.segments {
            let [a, b] = &segment.ends;
            // Neighbours share an end.
            let first = match last {
                Some((end, span)) if end == Rc::as_ptr(a) => span,
                _ => predict(a)?,
            };
            let second = if Rc::ptr_eq(a, b) { first } else { predict(b)? };
            last = Some((Rc::as_ptr(b), second));
            out.push(first.hull(second));
        }
        Ok(out)
    }

    /// Root, places and belief of each living segment, with what it says of something.
    pub(super) fn guesses(&self, spans: &[Span]) -> Vec<Guess> {
        let one = |(s, span): (&Segment<'_>, &Span)| Guess {
            root: s.root,
            place: self.candidates[s.candidate].places[0],
            weight: s.weight,
            span: *span,
        };
        self.segments.iter().zip(spans).map(one).collect()
    }

    /// The beginning and the place of each living segment.
    pub(super) fn segment_places(&self) -> Vec<(usize, Place)> {
        let one = |s: &Segment<'_>| (s.root, self.candidates[s.candidate].places[0]);
        self.segments.iter().map(one).collect()
    }

    /// How much is learnt from a reading, in bits, before it is taken.
    ///
    /// # Errors
    /// As [`Suspects::follow`].
    pub fn worth(&self, reading: &Reading) -> Result<f64, BenchError> {
        let spans = self.predict(reading)?;
        Ok(worth(&self.guesses(&spans), reading.function))
    }

    /// The lesson whose machine this is about.
    pub(super) fn lesson(&self) -> &'l Lesson {
        self.lesson
    }

    /// Whether a fuse has blown in one of the machines that could be.
    pub(super) fn may_have_blown(&self) -> bool {
        let circuit = &self.lesson.circuit;
        let blown = |b: &Bench<'_>| {
            let parts = circuit.parts.iter().zip(b.parts());
            parts
                .into_iter()
                .any(|(p, s)| p.kind.is_fuse() && s.level != 0)
        };
        let mut all = self.segments.iter().flat_map(|s| &s.ends[0].benches);
        all.any(blown)
    }
}
