//! Bots: students made of rules, who work a lesson the way some students do.

mod student;
mod table;
mod writing;

use cimento_bench::BenchError;
use cimento_diagnosis::attempt::{Action, Refusal};
use cimento_diagnosis::suspects::Reference;

use student::Student;
pub use table::{RUNS, Row, rank_correlation, row, sensible_by_chance};

/// How the next measurement is chosen.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Choose {
    /// As the reference plan goes.
    Plan,
    /// What tells most, however far away it is.
    Halving,
    /// One test point after the other along the path, from the battery on.
    InOrder,
    /// Anything that tells something.
    Telling,
    /// Anything that can be measured.
    Random,
    /// The best with this chance, anything else otherwise.
    Mixed(f64),
    /// The battery, once.
    Battery,
    Nothing,
}

/// What is cleared after a reading.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Clears {
    /// What it has ruled out.
    RuledOut,
    Nothing,
    /// Everything but one place, after the first reading.
    Everything,
    /// Some places.
    Random,
}

/// Which fault is named.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Names {
    /// The likeliest of what is left.
    Likeliest,
    /// Where the fault is, by luck.
    Right,
    /// Where it is not, though it might have been after the complaint.
    Wrong,
    Random,
    Nobody,
}

/// What is done to mend it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mends {
    /// What was named, with proof afterwards.
    AndProves,
    /// One suspect after the other is renewed until the complaint is gone.
    PartsUntilGone,
    Nothing,
}

/// A student made of rules.
#[derive(Debug, Clone, Copy)]
pub struct Bot {
    pub name: &'static str,
    pub choose: Choose,
    /// Chance that an expectation, a verdict, a clearance, a naming is a sensible one.
    pub sense: f64,
    pub clears: Clears,
    pub names: Names,
    pub mends: Mends,
}

const GOOD: Bot = Bot {
    name: "plan",
    choose: Choose::Plan,
    sense: 1.0,
    clears: Clears::RuledOut,
    names: Names::Likeliest,
    mends: Mends::AndProves,
};

/// Every bot of the table.
pub static BOTS: &[Bot] = &[
    GOOD,
    Bot {
        name: "halving",
        choose: Choose::Halving,
        ..GOOD
    },
    Bot {
        name: "in order",
        choose: Choose::InOrder,
        ..GOOD
    },
    Bot {
        name: "random but telling",
        choose: Choose::Telling,
        ..GOOD
    },
    Bot {
        name: "random",
        choose: Choose::Random,
        sense: 0.0,
        clears: Clears::Random,
        names: Names::Random,
        ..GOOD
    },
    Bot {
        name: "battery only",
        choose: Choose::Battery,
        clears: Clears::Nothing,
        names: Names::Nobody,
        mends: Mends::Nothing,
        ..GOOD
    },
    Bot {
        name: "right guess",
        choose: Choose::Nothing,
        names: Names::Right,
        ..GOOD
    },
    Bot {
        name: "wrong guess",
        choose: Choose::Nothing,
        names: Names::Wrong,
        ..GOOD
    },
    Bot {
        name: "parts changer",
        choose: Choose::Nothing,
        names: Names::Nobody,
        mends: Mends::PartsUntilGone,
        ..GOOD
    },
    Bot {
        name: "clears everything",
        choose: Choose::Battery,
        clears: Clears::Everything,
        ..GOOD
    },
];

/// One who takes a sensible step with some chance, and any other step otherwise.
pub fn sensible_with(chance: f64) -> Bot {
    Bot {
        name: "sensible now and then",
        choose: Choose::Mixed(chance),
        sense: chance,
        ..GOOD
    }
}

/// Why a bot could not go on.
#[derive(Debug, thiserror::Error)]
pub enum BotError {
    #[error(transparent)]
    Bench(#[from] BenchError),
    #[error(transparent)]
    Refused(#[from] Refusal),
}

impl Bot {
    /// Works a lesson. The same seed gives the same attempt.
    ///
    /// # Errors
    /// [`BotError`] when a circuit that has to be computed has no solution.
    pub fn work(&self, reference: &Reference, seed: u64) -> Result<Vec<Action>, BotError> {
        let mut student = Student::new(reference, *self, seed)?;
        student.sees_the_complaint()?;
        student.measures()?;
        student.names()?;
        student.mends()?;
        let unwritten = student.handed_in()?;
        writing::written(reference, &unwritten, self.sense, seed)
    }
}
