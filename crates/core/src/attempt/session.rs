//! An attempt being worked: each action is checked, done on the bench, and answered.

use std::cell::RefCell;
use std::rc::Rc;

use cimento_solver::Solver;

use super::action::{Action, Answer, Step};
use super::lesson::Lesson;
use super::repair::{cures, repairs};
use crate::bench::{Bench, BenchError, Complaint, OperatingState, complaint};
use crate::circuit::{Circuit, Place};
use crate::faults::Fault;
use crate::instruments::{Function, Reading, TakeError, ranges, take};
use crate::parts::Notice;
use crate::units::Quantity;

/// Minutes that things take beyond reaching a place; common practice.
const CONTROL_MIN: f64 = 0.1;
const COMPLAINT_MIN: f64 = 1.0;
const READING_MIN: f64 = 0.5;
const APART_MIN: f64 = 0.5;
/// Longest text taken as an expectation.
const LONGEST_TEXT: usize = 40;

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

/// A lesson's bench with what has been done on it.
pub struct Session<'l> {
    pub lesson: &'l Lesson,
    bench: Bench<'l>,
    steps: Vec<Step>,
    /// Where each lead was last, to count the way.
    leads: [Option<String>; 2],
}

impl<'l> Session<'l> {
    /// A fresh bench. The customer has tried the machine before it came in, so a fuse may already
    /// have blown.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution.
    pub fn start(lesson: &'l Lesson) -> Result<Self, BenchError> {
        Ok(Self {
            lesson,
            bench: Self::tried(lesson, &lesson.faults)?.0,
            steps: Vec::new(),
            leads: [None, None],
        })
    }

    /// Does a list of actions anew.
    ///
    /// # Errors
    /// [`Refusal`] when one of them cannot be done, as the first time.
    pub fn replay(lesson: &'l Lesson, actions: &[Action]) -> Result<Self, Refusal> {
        let mut session = Self::start(lesson)?;
        for action in actions {
            session.act(action.clone())?;
        }
        Ok(session)
    }

    /// What was done so far.
    pub fn steps(&self) -> &[Step] {
        &self.steps
    }

    /// The bench as it stands.
    pub fn bench(&self) -> &Bench<'l> {
        &self.bench
    }

    /// Whether the attempt has been handed in.
    pub fn is_handed_in(&self) -> bool {
        self.steps
            .last()
            .is_some_and(|s| s.action == Action::HandIn)
    }

    /// Does one action.
    ///
    /// # Errors
    /// [`Refusal`] with a sentence that says what to do instead; nothing has changed then.
    pub fn act(&mut self, action: Action) -> Result<&Step, Refusal> {
        if self.is_handed_in() {
            return Err(Refusal::HandedIn);
        }
        let (answer, minutes) = match &action {
            Action::SetControl { .. } | Action::TakeApart { .. } | Action::PutBack { .. } => {
                self.change_state(&action)?
            }
            Action::TryComplaint => {
                let complaint = seen_from_the_seat(complaint(&mut self.bench)?);
                (Answer::Complaint { complaint }, COMPLAINT_MIN)
            }
            Action::TakeReading {
                function,
                range,
                red,
                black,
                expected,
            } => self.take_reading(
                *function,
                *range,
                [red.as_deref(), black.as_deref()],
                expected.as_deref(),
            )?,
            Action::Judge { step, .. } => {
                self.reading(*step)?;
                (Answer::Noted, 0.0)
            }
            Action::NameFault {
                place,
                mode,
                because,
            } => {
                let place = self.place(place)?;
                let modes = self.lesson.circuit.modes(place);
                if !modes.iter().any(|m| m.name == mode) {
                    let names: Vec<_> = modes.iter().map(|m| m.name).collect();
                    return bad(format!(
                        "it cannot fail as “{mode}”: choose one of {}",
                        names.join(", ")
                    ));
                }
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
                Self::repair_on(&mut self.bench, place, *how)?;
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

    /// What the customer saw.
    pub(crate) fn complaint_of(lesson: &'l Lesson) -> Result<Complaint, BenchError> {
        Ok(Self::tried(lesson, &lesson.faults)?.1)
    }

    /// A bench whose machine has been tried and stands at rest again, with what was noticed.
    pub(crate) fn tried(
        lesson: &'l Lesson,
        faults: &[Fault],
    ) -> Result<(Bench<'l>, Complaint), BenchError> {
        Self::tried_with(lesson, faults, &Rc::new(RefCell::new(Solver::new())))
    }

    /// The same with a solver that is shared.
    pub(crate) fn tried_with(
        lesson: &'l Lesson,
        faults: &[Fault],
        solver: &Rc<RefCell<Solver>>,
    ) -> Result<(Bench<'l>, Complaint), BenchError> {
        let mut bench = Bench::sharing(&lesson.circuit, faults, solver)?;
        let seen = complaint(&mut bench)?;
        bench.set(OperatingState::at_rest(&lesson.circuit))?;
        Ok((bench, seen))
    }

    /// Does a repair on a bench: what it does not cure stays.
    pub(crate) fn repair_on(
        bench: &mut Bench<'_>,
        place: Place,
        how: super::RepairKind,
    ) -> Result<(), BenchError> {
        let circuit = bench.circuit;
        let here = bench.faults().iter().filter(|f| f.place == place);
        let cured = here
            .clone()
            .all(|f| cures(circuit, place, f.mode.name(), how));
        if cured { bench.repair(place) } else { Ok(()) }
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

    fn place(&self, id: &str) -> Result<Place, Refusal> {
        match self.lesson.circuit.place(id) {
            Some(place) => Ok(place),
            None => bad(format!("there is no place {id}")),
        }
    }

    /// What can be unplugged or pulled by hand on a circuit: connectors, fuses, relays.
    pub fn comes_apart(circuit: &Circuit) -> Vec<String> {
        let parts = circuit.parts.iter().filter(|p| p.kind.plugs_in());
        let connectors = circuit.doc.connectors.keys().cloned();
        connectors.chain(parts.map(|p| p.id.clone())).collect()
    }

    fn change_state(&mut self, action: &Action) -> Result<(Answer, f64), Refusal> {
        let circuit = self.bench.circuit;
        let mut minutes = CONTROL_MIN;
        if let Action::TakeApart { what } | Action::PutBack { what } = action {
            if !Self::comes_apart(circuit).contains(what) {
                return bad(format!(
                    "{what} does not come apart by hand: choose a connector, fuse or relay"
                ));
            }
            minutes = APART_MIN + reach_min(circuit, what);
        }
        let Some(state) = action.moves(circuit, self.bench.state()) else {
            return bad("this does not change the machine".to_owned());
        };
        if let Err(problems) = state.check(circuit) {
            let text: Vec<String> = problems.iter().map(|p| p.message.clone()).collect();
            return bad(text.join("; "));
        }
        self.bench.set(state)?;
        let notices = self
            .bench
            .notices()
            .into_iter()
            .filter(|n| !n.hidden)
            .collect();
        Ok((Answer::Noticed { notices }, minutes))
    }

    fn take_reading(
        &mut self,
        function: Function,
        range: Option<f64>,
        leads: [Option<&str>; 2],
        expected: Option<&str>,
    ) -> Result<(Answer, f64), Refusal> {
        if !self.lesson.functions.contains(&function) {
            return bad("this lesson does not use that function of the meter".to_owned());
        }
        let range = match range {
            None => None,
            Some(r) => match ranges(function).iter().find(|have| have.0 == r) {
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
        let reading = take(&self.bench, function, range, red, black).map_err(|e| match e {
            TakeError::Bench(e) => Refusal::Bench(e),
            named => Refusal::BadAction(named.to_string()),
        })?;
        let mut minutes = READING_MIN;
        for (n, id) in [&reading.red, &reading.black].into_iter().enumerate() {
            if *id != self.leads[n] {
                let point = id
                    .as_deref()
                    .and_then(|id| self.lesson.circuit.test_point(id));
                minutes += point.map_or(0.0, |p| p.reach_min);
                self.leads[n].clone_from(id);
            }
        }
        Ok((Answer::Reading { reading }, minutes))
    }
}

/// Minutes to reach a connector or part.
fn reach_min(circuit: &Circuit, what: &str) -> f64 {
    let connector = circuit
        .doc
        .connectors
        .get(what)
        .map(|c| c.reach_min.unwrap_or(2.0));
    let part = circuit.part(what).map(|n| circuit.parts[n].reach_min);
    connector.or(part).unwrap_or(0.0)
}

fn bad<T>(message: String) -> Result<T, Refusal> {
    Err(Refusal::BadAction(message))
}

/// A complaint without what only a close look shows.
pub(crate) fn seen_from_the_seat(mut complaint: Complaint) -> Complaint {
    for trial in &mut complaint.trials {
        trial.notices.retain(|n: &Notice| !n.hidden);
    }
    complaint
}
