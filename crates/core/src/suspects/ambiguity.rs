//! Ambiguity: the places that no permitted reading can tell from the fault that is there.

use std::collections::BTreeSet;

use super::tracks::Suspects;
use crate::attempt::{Action, Answer, Lesson, Session, Step};
use crate::bench::{BenchError, OperatingState};
use crate::circuit::{Place, TestPoint};
use crate::instruments::{Function, read};

/// The places that hold a candidate consistent with every reading that the lesson permits: each
/// test point to battery negative in every state of the trial, and the resistance along each place
/// with the key off. The fault's own place is always among them.
///
/// # Errors
/// [`BenchError`] when the lesson's circuit has no solution in one of the states.
pub fn ambiguity_group(
    lesson: &Lesson,
    after_complaint: &Suspects<'_>,
) -> Result<BTreeSet<Place>, BenchError> {
    let mut suspects = after_complaint.clone();
    let mut session = Walk {
        bench: Session::tried(lesson, &lesson.faults)?.0,
        no: 0,
    };
    let alone = |suspects: &Suspects<'_>| suspects.places().len() <= 1;
    let points = &lesson.circuit.test_points;
    let negative = points.iter().find(|p| p.node == 0);
    let mut states = vec![OperatingState::at_rest(&lesson.circuit)];
    states.extend(
        OperatingState::trial(&lesson.circuit)
            .into_iter()
            .map(|t| t.state),
    );
    for (n, state) in states.iter().enumerate() {
        if alone(&suspects) {
            break;
        }
        for step in session.set(state)? {
            suspects.follow(&step)?;
        }
        if lesson.functions.contains(&Function::DcVolts) {
            for point in points {
                suspects.follow(&session.take(Function::DcVolts, Some(point), negative)?)?;
            }
        }
        if n == 0 && lesson.functions.contains(&Function::Ohms) {
            for conductor in &lesson.circuit.conductors {
                let end = |node: usize| points.iter().find(|p| p.node == node);
                let step = session.take(Function::Ohms, end(conductor.a), end(conductor.b))?;
                suspects.follow(&step)?;
            }
        }
    }
    let mut places = suspects.places();
    places.extend(lesson.faults.iter().map(|f| f.place));
    Ok(places)
}

/// The faulty machine being read from end to end.
struct Walk<'l> {
    bench: crate::bench::Bench<'l>,
    no: usize,
}

impl Walk<'_> {
    fn set(&mut self, state: &OperatingState) -> Result<Vec<Step>, BenchError> {
        let mut out = Vec::new();
        let inputs = state
            .inputs
            .iter()
            .map(|(name, at)| (name.clone(), at.clone()));
        for (control, position) in inputs.chain([("key".to_owned(), state.key.clone())]) {
            if self.bench.state().control(&control) == position {
                continue;
            }
            let mut next = self.bench.state().clone();
            next.set_control(&control, position.clone());
            self.bench.set(next)?;
            let action = Action::SetControl { control, position };
            out.push(self.step(action, Answer::Noted));
        }
        Ok(out)
    }

    fn take(
        &mut self,
        function: Function,
        red: Option<&TestPoint>,
        black: Option<&TestPoint>,
    ) -> Result<Step, BenchError> {
        let reading = read(&self.bench, function, None, red, black)?;
        let action = Action::TakeReading {
            function,
            range: None,
            red: reading.red.clone(),
            black: reading.black.clone(),
            expected: None,
        };
        Ok(self.step(action, Answer::Reading { reading }))
    }

    fn step(&mut self, action: Action, answer: Answer) -> Step {
        self.no += 1;
        Step {
            no: self.no,
            action,
            answer,
            minutes: 0.0,
        }
    }
}
