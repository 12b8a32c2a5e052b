//! An attempt being worked: each action is checked, done on the bench, and answered.

use std::sync::Arc;

use super::action::{Action, Answer, Step, Verdict};
use super::perform::{perform, seen};
use super::repair::repairs;
use super::touch::Touch;
use crate::lesson::{Lesson, Purpose};
use cimento_bench::instruments::{
    Function, Looks, Meter, Probe, Reading, Scope, TakeError, capture, take_with,
};
use cimento_bench::{Bench, BenchError, Complaint, complaint};
use cimento_model::circuit::Place;
use cimento_model::part::Notice;
use cimento_model::state::{ENGINE, OperatingState, TrialState};
use cimento_model::units::Quantity;

/// Minutes that things take beyond reaching a place; common practice.
const CONTROL_MINUTES: f64 = 0.1;
const COMPLAINT_MINUTES: f64 = 1.0;
const READING_MINUTES: f64 = 0.5;
const SCOPE_MINUTES: f64 = 2.0;
/// What a hint costs, by its level.
const HINT_MINUTES: [f64; 3] = [1.0, 2.0, 5.0];
const APART_MINUTES: f64 = 0.5;
const JOIN_MINUTES: f64 = 0.5;
const INSPECT_MINUTES: f64 = 0.3;
const SWAP_MINUTES: f64 = 2.0;
const METER_FUSE_MINUTES: f64 = 3.0;
const SEAL_MINUTES: f64 = 1.0;
/// Longest time that is let pass at once, in minutes.
const LONGEST_WAIT_MINUTES: f64 = 600.0;
/// Longest text taken as an expectation.
const LONGEST_TEXT: usize = 40;
/// Longest note of a student, in characters.
const LONGEST_NOTE: usize = 2000;

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
pub struct Session {
    pub lesson: Arc<Lesson>,
    bench: Bench,
    steps: Vec<Step>,
    /// Where each lead was last, to count the way.
    leads: [Option<String>; 2],
    meter: Meter,
    /// What an instrument showed when the action at hand was done before.
    showed: Option<Answer>,
}

impl Session {
    /// A fresh bench. The customer has tried the machine before it came in, so a fuse may already
    /// have blown.
    pub fn start(lesson: &Arc<Lesson>) -> Self {
        Self {
            lesson: Arc::clone(lesson),
            bench: lesson.brought_in(),
            steps: Vec::new(),
            leads: [None, None],
            meter: Meter {
                seed: lesson.meter_seed,
                ..Meter::default()
            },
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
    /// showed is taken from the steps instead of being worked out again.
    ///
    /// # Errors
    /// As [`Session::replay`].
    pub fn resume(lesson: &Arc<Lesson>, steps: &[Step]) -> Result<Self, Refusal> {
        let mut session = Self::start(lesson);
        for step in steps {
            session.showed = Some(step.answer.clone());
            session.act(step.action.clone())?;
        }
        session.showed = None;
        Ok(session)
    }

    /// What was done so far.
    pub fn steps(&self) -> &[Step] {
        &self.steps
    }

    /// The bench as it stands.
    pub fn bench(&self) -> &Bench {
        &self.bench
    }

    /// The student's meter as it stands.
    pub fn meter(&self) -> &Meter {
        &self.meter
    }

    /// Whether the attempt has been handed in.
    pub fn is_handed_in(&self) -> bool {
        self.steps
            .last()
            .is_some_and(|s| s.action == Action::HandIn)
    }

    /// Whether anything has been repaired.
    pub(crate) fn has_repaired(&self) -> bool {
        let repairs = |s: &Step| matches!(s.action, Action::Repair { .. });
        self.steps.iter().any(repairs)
    }

    /// Does one action.
    ///
    /// # Errors
    /// [`Refusal`] with a sentence that says what to do instead; nothing has changed then.
    pub fn act(&mut self, action: Action) -> Result<&Step, Refusal> {
        if self.is_handed_in() {
            return Err(Refusal::HandedIn);
        }
        let ends = matches!(
            action,
            Action::NameFault { .. } | Action::Repair { .. } | Action::HandIn
        );
        if ends && self.lesson.purpose == Purpose::Tools {
            return bad("this machine is healthy: there is nothing to find or to mend".to_owned());
        }
        if let Some(means) = action.means()
            && self.lesson.forbidden.contains(&means)
        {
            return bad(format!("this lesson does not allow {}", means.text()));
        }
        let (answer, minutes) = match &action {
            Action::Hint { level, .. } => self.note_hint(*level)?,
            Action::SetControl { .. }
            | Action::TakeApart { .. }
            | Action::PutBack { .. }
            | Action::Join { .. }
            | Action::Unjoin { .. }
            | Action::Support { .. }
            | Action::Unsupport
            | Action::Wiggle { .. }
            | Action::Rest
            | Action::Wait { .. }
            | Action::WarmUp
            | Action::CoolDown
            | Action::Wet
            | Action::Dry
            | Action::Swap { .. }
            | Action::FitKnownGood { .. }
            | Action::FitOwn { .. }
            | Action::ClearCodes { .. } => self.change_machine(&action)?,
            Action::Inspect { place } => {
                let place = self.place(place)?;
                let text = seen(&self.bench, place);
                (
                    Answer::Seen { text },
                    INSPECT_MINUTES + self.lesson.circuit.reach_minutes_of(place),
                )
            }
            Action::ZeroLeads => {
                self.meter.zeroed = true;
                (Answer::Noted, CONTROL_MINUTES)
            }
            Action::RenewMeterFuse => {
                self.meter.fuse_blown = false;
                (Answer::Noted, METER_FUSE_MINUTES)
            }
            Action::TryComplaint => {
                let complaint = seen_from_the_seat(complaint(&mut self.bench)?);
                (Answer::Complaint { complaint }, COMPLAINT_MINUTES)
            }
            Action::TakeReading {
                function,
                range,
                red,
                black,
                expected,
                supposing,
                touch,
            } => {
                if let Some(fault) = supposing {
                    self.may_fail(&fault.place, &fault.mode)?;
                }
                let leads = [red.as_deref(), black.as_deref()];
                self.may_touch(*touch, leads)?;
                self.take_reading(*function, *range, leads, expected.as_deref(), *touch)?
            }
            Action::Seal { wire } => {
                if !self.pierced().contains(wire) {
                    return bad(format!("{wire} has no hole to seal"));
                }
                (Answer::Noted, SEAL_MINUTES)
            }
            Action::Capture { scope, expected } => self.take_capture(scope, expected)?,
            Action::Judge { step, verdict } => {
                self.may_judge(*step, *verdict)?;
                (Answer::Noted, 0.0)
            }
            Action::Clear { places } | Action::Suspect { places } => {
                if places.is_empty() {
                    return bad("choose at least one place".to_owned());
                }
                for place in places {
                    self.place(place)?;
                }
                (Answer::Noted, 0.0)
            }
            Action::Note { step, text } => {
                if let Some(step) = step
                    && !self.is_capture(*step)
                {
                    self.reading(*step)?;
                }
                let length = text.trim().chars().count();
                if length == 0 || length > LONGEST_NOTE {
                    return bad(format!("a note has 1 to {LONGEST_NOTE} characters"));
                }
                (Answer::Noted, 0.0)
            }
            Action::NameFault {
                place,
                mode,
                because,
            } => {
                self.may_fail(place, mode)?;
                for step in because {
                    self.reading(*step)?;
                }
                (Answer::Noted, 0.0)
            }
            Action::Repair { place, how } => {
                let place = self.place(place)?;
                let circuit = &self.lesson.circuit;
                if !repairs(circuit, place).contains(how) {
                    return bad(format!(
                        "{} cannot be {}",
                        circuit.place_id(place),
                        how.text()
                    ));
                }
                perform(&mut self.bench, &action)?;
                let text = format!("{} {}", circuit.place_id(place), how.text());
                (Answer::Repaired { text }, how.minutes())
            }
            Action::HandIn => (Answer::HandedIn, 0.0),
        };
        let no = self.steps.len() + 1;
        self.steps.push(Step {
            no,
            action,
            answer,
            minutes,
        });
        Ok(&self.steps[no - 1])
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

    fn is_capture(&self, step: usize) -> bool {
        let found = step.checked_sub(1).and_then(|n| self.steps.get(n));
        found.is_some_and(|s| matches!(s.answer, Answer::Captured { .. }))
    }

    /// Whether a verdict can be given on a step: a screen is normal or not, a reading has a direction.
    fn may_judge(&self, step: usize, verdict: Verdict) -> Result<(), Refusal> {
        let of_a_screen = matches!(
            verdict,
            Verdict::Normal | Verdict::Abnormal | Verdict::TellsNothing
        );
        if !self.is_capture(step) {
            self.reading(step)?;
        }
        match (self.is_capture(step), verdict) {
            (true, _) if !of_a_screen => {
                bad("a screen is judged normal, not normal, or as telling nothing".to_owned())
            }
            (false, Verdict::Abnormal) => {
                bad("say whether the reading is too low or too high".to_owned())
            }
            _ => Ok(()),
        }
    }

    /// Whether a place can fail in a way.
    fn may_fail(&self, place: &str, mode: &str) -> Result<(), Refusal> {
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

    fn place(&self, id: &str) -> Result<Place, Refusal> {
        match self.lesson.circuit.place(id) {
            Some(place) => Ok(place),
            None => bad(format!("there is no place {id}")),
        }
    }

    /// Minutes that an action on the machine takes, once it is known that it can be done.
    fn cost(&self, action: &Action) -> Result<f64, Refusal> {
        let circuit = &self.bench.circuit;
        let known = |part: &String| match circuit.part(part) {
            Some(n) => Ok(n),
            None => bad(format!("there is no part {part}")),
        };
        let way = |ids: &[&String]| -> f64 {
            let points = ids.iter().filter_map(|id| circuit.test_point(id));
            points.map(|p| p.reach_min).sum()
        };
        Ok(match action {
            Action::TakeApart { what } | Action::PutBack { what } => {
                if !self.lesson.comes_apart.contains(what) {
                    return bad(format!(
                        "{what} does not come apart by hand: choose a connector, fuse, relay or the battery"
                    ));
                }
                APART_MINUTES + circuit.reach_minutes(what)
            }
            Action::Join { from, to, .. }
            | Action::Support {
                plus: from,
                minus: to,
            } => {
                if from == to {
                    return bad("a lead needs two different ends".to_owned());
                }
                JOIN_MINUTES + way(&[from, to])
            }
            Action::Wait { minutes } => {
                if !(*minutes > 0.0 && *minutes <= LONGEST_WAIT_MINUTES) {
                    return bad(format!(
                        "wait up to {LONGEST_WAIT_MINUTES} minutes at a time"
                    ));
                }
                *minutes
            }
            Action::WarmUp => super::perform::WARM_MINUTES,
            Action::CoolDown => super::perform::COOL_MINUTES,
            Action::Wiggle { .. } | Action::Wet | Action::Dry => JOIN_MINUTES,
            Action::Swap { a, b } => {
                let (a, b) = (known(a)?, known(b)?);
                let (a, b) = (&circuit.parts[a], &circuit.parts[b]);
                if a.id == b.id || a.kind.kind() != b.kind.kind() || a.params != b.params {
                    return bad(format!("{} and {} are not alike", a.id, b.id));
                }
                SWAP_MINUTES + a.reach_min + b.reach_min
            }
            Action::FitKnownGood { part } | Action::FitOwn { part } => {
                SWAP_MINUTES + circuit.parts[known(part)?].reach_min
            }
            Action::ClearCodes { module } => {
                if circuit.parts[known(module)?].kind.module().is_none() {
                    return bad(format!("{module} is no control module"));
                }
                CONTROL_MINUTES
            }
            _ => CONTROL_MINUTES,
        })
    }

    fn change_machine(&mut self, action: &Action) -> Result<(Answer, f64), Refusal> {
        let minutes = self.cost(action)?;
        if let Some(state) = action.asks_for(&self.bench)
            && let Err(problems) = state.check(&self.bench.circuit)
        {
            let text: Vec<String> = problems.iter().map(|p| p.message.clone()).collect();
            return bad(text.join("; "));
        }
        if let Action::SetControl { control, position } = action
            && control == ENGINE
            && position != "stopped"
            && !self.starts()?
        {
            return bad("the engine does not start".to_owned());
        }
        let outcome = perform(&mut self.bench, action)?;
        let notices = self
            .bench
            .notices()
            .into_iter()
            .filter(|n| !n.hidden)
            .collect();
        let answer = match outcome.lead_blew {
            true => Answer::LeadBlew { notices },
            false => Answer::Noticed { notices },
        };
        Ok((answer, minutes))
    }

    /// Whether the engine of the machine as it stands starts when it is asked to.
    fn starts(&self) -> Result<bool, BenchError> {
        let mut tried = self.bench.clone();
        let trials = OperatingState::trial(&self.bench.circuit);
        for trial in trials.into_iter().filter(TrialState::starts_engine) {
            let mut state = tried.state().clone();
            (state.key, state.inputs) = (trial.state.key, trial.state.inputs);
            tried.set(state)?;
        }
        Ok(tried.starts())
    }

    fn note_hint(&self, level: u8) -> Result<(Answer, f64), Refusal> {
        if self.lesson.purpose != Purpose::Practice {
            return bad("hints are for practice".to_owned());
        }
        let cost = HINT_MINUTES.get(usize::from(level.saturating_sub(1)));
        cost.map_or_else(
            || bad(format!("there is no hint of level {level}")),
            |minutes| Ok((Answer::Noted, *minutes)),
        )
    }

    fn take_capture(&self, scope: &Scope, expected: &[Looks]) -> Result<(Answer, f64), Refusal> {
        if !self.lesson.scope {
            return bad("this lesson does not use the oscilloscope".to_owned());
        }
        let said = expected.len();
        if said != scope.channels.len() && (said > 0 || self.lesson.predictions) {
            return bad(
                "say of each channel what a healthy machine shows before you capture".to_owned(),
            );
        }
        let capture = match &self.showed {
            Some(Answer::Captured { capture }) => capture.clone(),
            _ => capture(&self.bench, scope).map_err(not_taken)?,
        };
        let circuit = &self.lesson.circuit;
        let reach = |probe: &Probe| match probe {
            Probe::Leads { red, black } => {
                let points = [red, black]
                    .into_iter()
                    .filter_map(|id| circuit.test_point(id));
                points.map(|p| p.reach_min).sum()
            }
            Probe::Pickup { .. } | Probe::Clamp { .. } => JOIN_MINUTES,
        };
        let minutes = SCOPE_MINUTES + scope.channels.iter().map(reach).sum::<f64>();
        Ok((Answer::Captured { capture }, minutes))
    }

    fn take_reading(
        &mut self,
        function: Function,
        range: Option<f64>,
        leads: [Option<&str>; 2],
        expected: Option<&str>,
        touch: Touch,
    ) -> Result<(Answer, f64), Refusal> {
        if !self.lesson.functions.contains(&function) {
            return bad("this lesson does not use that function of the meter".to_owned());
        }
        let range = match range {
            None => None,
            Some(r) => match function.ranges().iter().find(|have| have.0 == r) {
                Some(range) => Some(*range),
                None => return bad(format!("the meter has no range of {r} there")),
            },
        };
        match expected {
            None if self.lesson.predictions => {
                return bad(
                    "write down what a healthy circuit should read before you take the reading"
                        .to_owned(),
                );
            }
            Some(text) => {
                let shown: String = text.chars().take(LONGEST_TEXT).collect();
                Quantity::parse(&shown, function.unit())
                    .map_err(|e| Refusal::BadAction(e.to_string()))?;
            }
            None => {}
        }
        let [red, black] = leads;
        let reading = match &self.showed {
            Some(Answer::Reading { reading }) => reading.clone(),
            _ => take_with(&self.meter, &self.bench, function, range, red, black)
                .map_err(not_taken)?,
        };
        self.meter.fuse_blown |= reading.blew;
        let mut minutes = READING_MINUTES;
        for (n, id) in [&reading.red, &reading.black].into_iter().enumerate() {
            if *id != self.leads[n] {
                let point = id
                    .as_deref()
                    .and_then(|id| self.lesson.circuit.test_point(id));
                minutes += point.map_or(0.0, |p| touch.way_minutes(&self.lesson.circuit, p));
                self.leads[n].clone_from(id);
            }
        }
        Ok((Answer::Reading { reading }, minutes))
    }
}

fn not_taken(error: TakeError) -> Refusal {
    match error {
        TakeError::Bench(e) => Refusal::Bench(e),
        named => Refusal::BadAction(named.to_string()),
    }
}

pub(super) fn bad<T>(message: String) -> Result<T, Refusal> {
    Err(Refusal::BadAction(message))
}

/// A complaint without what only a close look shows.
pub(crate) fn seen_from_the_seat(mut complaint: Complaint) -> Complaint {
    for trial in &mut complaint.trials {
        trial.notices.retain(|n: &Notice| !n.hidden);
    }
    complaint
}
