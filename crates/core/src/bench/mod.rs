//! A circuit with faults in an operating state: settled, acted on, read.

mod settle;
mod state;
mod symptom;
mod wiring;

use std::cell::RefCell;
use std::rc::Rc;

use cimento_solver::{SolveError, Solver};

pub use settle::{Event, Point, Settled};
pub use state::{Engine, OperatingState, Supply, TrialState};
pub use symptom::{Complaint, complaint};
pub use wiring::{Line, Role, Wiring};

use crate::circuit::{Circuit, Place};
use crate::faults::Fault;
use crate::parts::{Context, Look, Notice, PartState};

/// A machine on the bench.
#[derive(Clone)]
pub struct Bench<'c> {
    pub circuit: &'c Circuit,
    faults: Vec<Fault>,
    state: OperatingState,
    parts: Vec<PartState>,
    settled: Settled,
    solver: Rc<RefCell<Solver>>,
}

/// Why a bench has no answer.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum BenchError {
    /// The numerics failed; the sentence names the element.
    #[error("{0}")]
    NoSolution(String),
}

impl<'c> Bench<'c> {
    /// A machine at rest: key off, everything plugged in.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution.
    pub fn new(circuit: &'c Circuit, faults: &[Fault]) -> Result<Self, BenchError> {
        Self::sharing(circuit, faults, &Rc::new(RefCell::new(Solver::new())))
    }

    /// The same with a solver that other benches of the circuit use too, so that what one has
    /// factored serves the next.
    ///
    /// # Errors
    /// As [`Bench::new`].
    pub fn sharing(
        circuit: &'c Circuit,
        faults: &[Fault],
        solver: &Rc<RefCell<Solver>>,
    ) -> Result<Self, BenchError> {
        let mut bench = Self {
            circuit,
            faults: faults.to_vec(),
            state: OperatingState::at_rest(circuit),
            parts: vec![PartState::default(); circuit.parts.len()],
            settled: Settled::default(),
            solver: Rc::clone(solver),
        };
        bench.settle()?;
        Ok(bench)
    }

    /// The present operating state.
    pub fn state(&self) -> &OperatingState {
        &self.state
    }

    /// The faults that are still there.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// What the machine settled to.
    pub fn settled(&self) -> &Settled {
        &self.settled
    }

    /// States of the parts, in the circuit's order.
    pub fn parts(&self) -> &[PartState] {
        &self.parts
    }

    /// Brings the machine into a state and lets it settle.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution there.
    pub fn set(&mut self, state: OperatingState) -> Result<(), BenchError> {
        self.state = state;
        self.settle()
    }

    /// Takes over the parts as another bench left them: a blown fuse stays blown.
    pub(crate) fn carry_over(&mut self, other: &Bench<'_>) {
        self.parts.clone_from(&other.parts);
    }

    /// Repairs a place: its faults are gone, and a fuse there is new.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn repair(&mut self, place: Place) -> Result<(), BenchError> {
        self.faults.retain(|f| f.place != place);
        if let Place::Part(n) = place {
            self.parts[n] = PartState::default();
        }
        self.settle()
    }

    fn settle(&mut self) -> Result<(), BenchError> {
        let settled = self.settled_with(&|_| ())?;
        if let Some(point) = settled.points.last() {
            self.parts.clone_from(&point.parts);
        }
        self.settled = settled;
        Ok(())
    }

    /// The machine settled with something attached to it; the bench itself stays as it is.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn settled_with(&self, attach: &dyn Fn(&mut Wiring)) -> Result<Settled, BenchError> {
        settle::settle(
            &mut self.solver.borrow_mut(),
            self.circuit,
            &self.faults,
            &self.state,
            &self.parts,
            attach,
        )
    }

    /// What a person at the machine notices in the present state.
    pub fn notices(&self) -> Vec<Notice> {
        let active = settle::active(self.circuit, &self.faults, &self.state);
        let mut out = Vec::new();
        for (index, part) in self.circuit.parts.iter().enumerate() {
            let look = |point: &'_ Point| Context {
                index,
                part,
                state: point.parts[index],
                operating: &self.state,
                faults: &active,
            };
            let looks: Vec<Look<'_>> = self
                .settled
                .points
                .iter()
                .map(|point| Look {
                    context: look(point),
                    wiring: &point.wiring,
                    op: &point.op,
                })
                .collect();
            out.extend(part.kind.notice(&looks));
        }
        out.sort_by_key(|n| n.kind);
        out
    }
}

/// Turns a solver's error into a sentence that names the element as the circuit does.
fn named(circuit: &Circuit, wiring: &Wiring, error: SolveError) -> BenchError {
    let element = match error {
        SolveError::Singular { element }
        | SolveError::NotConverged { element, .. }
        | SolveError::Residual { element, .. }
        | SolveError::BadValue { element } => element,
    };
    let line = wiring.lines.iter().find(|l| l.element.index() == element);
    let name = line.map_or_else(
        || "the battery's side of the circuit".to_owned(),
        |l| format!("{} ({})", circuit.place_id(l.place), l.name),
    );
    BenchError::NoSolution(format!("no operating point was found at {name}: {error}"))
}
