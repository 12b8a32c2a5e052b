//! An attempt being worked: each action is checked, done on the bench, and answered.

use crate::attempt::actions::HandIn;
use std::sync::Arc;

use super::actions::{Act, Action};
use super::bounds;
use super::step::{Answer, Step};
use super::view::BenchView;
use crate::build::{Change, rewired};
use crate::lesson::{Lesson, Purpose};
use crate::test_sheet::Unmarked;
use cimento_bench::instruments::{Meter, Reading, TakeError};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Part, Place};

/// What is answered where no operating point was found.
pub const UNSETTLED: &str = "the machine does not come to rest then, and was put back as it stood";

/// Why an action was not done. Nothing has changed.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Refusal {
    #[error("{0}")]
    BadAction(String),
    #[error("the attempt has been handed in: nothing more can be done on this bench")]
    HandedIn,
    #[error(transparent)]
    Bench(#[from] BenchError),
}

impl From<Refusal> for BenchError {
    fn from(refusal: Refusal) -> Self {
        match refusal {
            Refusal::Bench(e) => e,
            named => Self::NotDone(named.to_string()),
        }
    }
}

/// A lesson's bench with what has been done on it.
#[derive(Clone)]
pub struct Session {
    pub lesson: Arc<Lesson>,
    pub(super) bench: Bench,
    steps: Vec<Step>,
    /// Where each lead was last, to count the way.
    pub(super) leads: [Option<String>; 2],
    pub(super) meter: Meter,
    steps_bytes: usize,
    /// What the student's view holds of the steps.
    record: BenchView,
    /// What an instrument showed when the action at hand was done before.
    pub(super) showed: Option<Answer>,
}

impl Session {
    /// A fresh bench. The customer has tried the machine before it came in, so a fuse may already
    /// have blown.
    pub fn start(lesson: &Arc<Lesson>) -> Self {
        Self::at(lesson, lesson.brought_in())
    }

    fn at(lesson: &Arc<Lesson>, bench: Bench) -> Self {
        Self {
            lesson: Arc::clone(lesson),
            bench,
            steps: Vec::new(),
            leads: [None, None],
            meter: Meter {
                seed: lesson.meter_seed,
                ..Meter::default()
            },
            steps_bytes: 0,
            record: BenchView::default(),
            showed: None,
        }
    }

    /// Does a list of actions anew.
    ///
    /// # Errors
    /// [`Refusal`] when one of them cannot be done, as the first time.
    pub fn replay(lesson: &Arc<Lesson>, actions: &[Action]) -> Result<Self, Refusal> {
        let mut session = Self::start(lesson);
        for action in actions {
            session.act(action.clone())?;
        }
        Ok(session)
    }

    /// Goes on with what was done before: the machine is brought to where it was, and what its instruments
    /// showed is taken from the steps instead of being worked out again. Those who go on with one lesson share
    /// what they work with.
    ///
    /// # Errors
    /// As [`Session::replay`].
    pub fn resume(lesson: &Arc<Lesson>, steps: &[Step]) -> Result<Self, Refusal> {
        let mut session = Self::at(lesson, lesson.brought_in_for_a_class());
        session.go_on(steps)?;
        Ok(session)
    }

    /// Does what was done elsewhere since: by the other of two at this bench, or before.
    ///
    /// # Errors
    /// As [`Session::replay`].
    pub fn go_on(&mut self, steps: &[Step]) -> Result<(), Refusal> {
        for step in steps {
            self.showed = Some(step.answer.clone());
            self.put(step.action.clone(), step.by_partner)?;
        }
        self.showed = None;
        Ok(())
    }

    /// Roughly the memory it takes, in bytes: its machine, and its steps twice, as they are and as the view
    /// has them.
    pub fn bytes(&self) -> usize {
        self.bench.bytes() + self.steps_bytes
    }

    /// What was done so far.
    pub fn steps(&self) -> &[Step] {
        &self.steps
    }

    /// The bench as it stands.
    pub fn bench(&self) -> &Bench {
        &self.bench
    }

    /// Sheets of the binder that lie open.
    pub fn opened(&self) -> &[String] {
        &self.record.opened
    }

    /// The student's meter as it stands.
    pub fn meter(&self) -> &Meter {
        &self.meter
    }

    pub(super) fn record(&self) -> &BenchView {
        &self.record
    }

    /// Whether the attempt has been handed in.
    pub fn is_handed_in(&self) -> bool {
        self.steps
            .last()
            .is_some_and(|s| s.action == Action::HandIn(HandIn {}))
    }

    /// Whether anything has been repaired.
    pub(crate) fn has_repaired(&self) -> bool {
        let repairs = |s: &Step| matches!(s.action, Action::Repair(_));
        self.steps.iter().any(repairs)
    }

    /// Does one action.
    ///
    /// # Errors
    /// [`Refusal`] with a sentence that says what to do instead; nothing has changed then.
    pub fn act(&mut self, action: Action) -> Result<&Step, Refusal> {
        self.put(action, false)
    }

    /// Does one action that the other of two at this bench has asked for.
    ///
    /// # Errors
    /// As [`Session::act`].
    pub fn act_for_partner(&mut self, action: Action) -> Result<&Step, Refusal> {
        self.put(action, true)
    }

    /// Whether a reading or a screen may be asked for, before anything is measured: what would refuse it is said to
    /// whoever asks.
    ///
    /// # Errors
    /// As [`Session::act`].
    pub fn may_ask(&self, action: &Action) -> Result<(), Refusal> {
        self.may(action)?;
        match action {
            Action::TakeReading(reading) => reading.may_be_taken(self),
            Action::Capture(capture) => capture.may_be_taken(self),
            _ => bad("only a reading is asked for of two".to_owned()),
        }
    }

    fn may(&self, action: &Action) -> Result<(), Refusal> {
        if self.is_handed_in() && !matches!(action, Action::TakeUp(_)) {
            return Err(Refusal::HandedIn);
        }
        if let Some(why) = bounds::too_large(action, self.lesson.circuit.places().count()) {
            return bad(why);
        }
        if let Some(why) = self.out_of_task(action) {
            return bad(why.to_owned());
        }
        if action.kind().concludes() && self.lesson.purpose == Purpose::Tools {
            return bad("this machine is healthy: there is nothing to find or to mend".to_owned());
        }
        if let Some(means) = action.means()
            && self.lesson.forbidden.contains(&means)
        {
            return bad(format!("this lesson does not allow {}", means.text()));
        }
        Ok(())
    }

    /// Why an action is none of what the lesson asks for.
    fn out_of_task(&self, action: &Action) -> Option<&'static str> {
        let kind = action.kind();
        if self.lesson.task.is_diagnosis() || kind.is_written() {
            return None;
        }
        if self.lesson.task.is_on_paper() {
            return Some("nothing is measured here: write down what you expect, then hand it in");
        }
        if kind.concludes() {
            return Some("nothing is named or repaired here: enter on the sheet what each row is");
        }
        if self.lesson.build.is_some() {
            let may = kind.wires() || kind.is_at_the_meter();
            return (!may).then_some("this machine is wired and measured, and nothing else");
        }
        let unmarked = self.unmarked().is_some();
        (unmarked && !kind.is_at_the_meter()).then_some("only the unmarked leads are measured here")
    }

    /// Changes how a machine that is to be built is wired. It stands at rest then.
    ///
    /// # Errors
    /// [`Refusal`] with what is wrong; the wiring is as it was.
    pub(super) fn rewire(&mut self, change: &Change<'_>) -> Result<(), Refusal> {
        let Some(build) = &self.lesson.build else {
            return bad("nothing is wired here: the machine is as its diagram shows it".to_owned());
        };
        let new = rewired(&build.start.doc, &self.bench.circuit.doc, change);
        let circuit = new.or_else(bad)?;
        self.bench = Bench::new(&circuit, &[]).or_else(|e| bad(e.to_string()))?;
        Ok(())
    }

    /// The leads without a name, where the lesson is about them.
    pub(super) fn unmarked(&self) -> Option<&Unmarked> {
        self.lesson.test_sheet.as_ref()?.leads.as_ref()
    }

    /// The test points that leads are put on, as the machine calls them.
    ///
    /// # Errors
    /// [`Refusal`] for what is neither an unmarked lead nor a marked point.
    pub(super) fn standing_on(
        &self,
        leads: [Option<&str>; 2],
    ) -> Result<[Option<String>; 2], Refusal> {
        let real = |said: Option<&str>| match (self.unmarked(), said) {
            (Some(unmarked), Some(said)) => match unmarked.point(said) {
                Some(point) => Ok(Some(point.to_owned())),
                None => bad(format!(
                    "there is no lead {said}: expected one of {}",
                    unmarked.called().join(", ")
                )),
            },
            (_, said) => Ok(said.map(str::to_owned)),
        };
        Ok([real(leads[0])?, real(leads[1])?])
    }

    /// A reading that came to nothing, without a word of what a lead is called.
    pub(super) fn not_taken(&self, error: TakeError) -> Refusal {
        match error {
            TakeError::Bench(e) => Refusal::Bench(e),
            _ if self.unmarked().is_some() => {
                Refusal::BadAction("that cannot be read there".to_owned())
            }
            named => Refusal::BadAction(named.to_string()),
        }
    }

    fn put(&mut self, action: Action, by_partner: bool) -> Result<&Step, Refusal> {
        self.may(&action)?;
        let (answer, minutes) = self.answer(&action)?;
        let no = self.steps.len() + 1;
        let step = Step {
            no,
            action,
            answer,
            minutes,
            by_partner,
        };
        self.record.add(&step);
        self.steps_bytes += 2 * step.bytes();
        self.steps.push(step);
        Ok(&self.steps[no - 1])
    }

    /// What an action is answered and the minutes it took. Whatever only the machine can tell is an answer, and no
    /// refusal: not to be had without doing it.
    fn answer(&mut self, action: &Action) -> Result<(Answer, f64), Refusal> {
        let kind = action.kind();
        let again = match &self.showed {
            Some(Answer::CameToNothing { text }) => Some(text.clone()),
            _ => None,
        };
        let text = match again {
            Some(text) => text,
            None => match kind.act(self) {
                Err(Refusal::Bench(_)) => {
                    // It may stand half-way.
                    *self = Self::resume(&self.lesson, &self.steps)?;
                    UNSETTLED.to_owned()
                }
                done => return done,
            },
        };
        let minutes = kind.minutes_in_vain(self)?;
        Ok((Answer::CameToNothing { text }, minutes))
    }

    /// The reading of a step.
    ///
    /// # Errors
    /// [`Refusal`] when the step is no reading.
    pub fn reading(&self, step: usize) -> Result<&Reading, Refusal> {
        let found = step.checked_sub(1).and_then(|n| self.steps.get(n));
        match found.map(|s| &s.answer) {
            Some(Answer::Reading { reading }) => Ok(reading),
            _ => bad(format!("step {step} is no reading")),
        }
    }

    /// Whether a step is a screen of the oscilloscope.
    pub(super) fn is_capture(&self, step: usize) -> bool {
        let found = step.checked_sub(1).and_then(|n| self.steps.get(n));
        found.is_some_and(|s| matches!(s.answer, Answer::Captured { .. }))
    }

    /// Whether a place can fail in a way.
    pub(super) fn may_fail(&self, place: &str, mode: &str) -> Result<(), Refusal> {
        let modes = self.lesson.circuit.modes(self.place(place)?);
        if modes.iter().any(|m| m.name == mode) {
            return Ok(());
        }
        let names: Vec<_> = modes.iter().map(|m| m.name).collect();
        bad(format!(
            "{place} cannot fail as “{mode}”: choose one of {}",
            names.join(", ")
        ))
    }

    pub(super) fn place(&self, id: &str) -> Result<Place, Refusal> {
        match self.lesson.circuit.place(id) {
            Some(place) => Ok(place),
            None => bad(format!("there is no place {id}")),
        }
    }

    pub(super) fn part(&self, id: &str) -> Result<&Part, Refusal> {
        match self.lesson.circuit.part(id) {
            Some(n) => Ok(&self.lesson.circuit.parts[n]),
            None => bad(format!("there is no part {id}")),
        }
    }

    /// Minutes of the way to both ends of a lead.
    pub(super) fn way_minutes(&self, ends: [&str; 2]) -> Result<f64, Refusal> {
        if ends[0] == ends[1] {
            return bad("a lead needs two different ends".to_owned());
        }
        let points = ends.into_iter();
        let points = points.filter_map(|id| self.lesson.circuit.test_point(id));
        Ok(points.map(|p| p.reach_minutes).sum())
    }

    /// Whether the machine can be put into the state that an action asks for.
    pub(super) fn may_change<A: Act + ?Sized>(&self, action: &A) -> Result<(), Refusal> {
        let Some(state) = action.asks_for(&self.bench) else {
            return Ok(());
        };
        state.check(&self.bench.circuit).or_else(|problems| {
            let text: Vec<String> = problems.iter().map(|p| p.message.clone()).collect();
            bad(text.join("; "))
        })
    }

    /// Does an action to the machine; the answer is what is noticed then.
    pub(super) fn change_machine<A: Act + ?Sized>(
        &mut self,
        action: &A,
    ) -> Result<Answer, Refusal> {
        self.may_change(action)?;
        let outcome = action.perform(&mut self.bench)?;
        let all = self.bench.notices().into_iter();
        let notices = all.filter(|n| !n.hidden).collect();
        Ok(match outcome.lead_blew {
            true => Answer::LeadBlew { notices },
            false => Answer::Noticed { notices },
        })
    }
}

pub(super) fn bad<T>(message: String) -> Result<T, Refusal> {
    Err(Refusal::BadAction(message))
}
