//! Letting time pass.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, Danger};
use cimento_bench::{Bench, BenchError};

/// Longest time that is let pass at once, in minutes.
const LONGEST_MINUTES: f64 = 600.0;

/// Let time pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wait {
    pub minutes: f64,
}

impl Act for Wait {
    fn said(&self, _: &Answer) -> String {
        format!("Waited {} min", self.minutes)
    }

    fn minutes(&self, _: &Session) -> Result<f64, Refusal> {
        if self.minutes > 0.0 && self.minutes <= LONGEST_MINUTES {
            return Ok(self.minutes);
        }
        bad(format!("wait up to {LONGEST_MINUTES} minutes at a time"))
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        bench.pass_time(self.minutes)?;
        Ok(Outcome::done())
    }

    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        let coils = strained(bench).into_iter();
        let danger = |coil| Danger {
            serious: false,
            text: format!(
                "{coil} was left to fire for {} min with nowhere to spark, which harms it inside.",
                self.minutes
            ),
        };
        coils.map(danger).collect()
    }
}

/// The coils that fire with nowhere to spark.
fn strained(bench: &Bench) -> Vec<&str> {
    let parts = bench.circuit.parts.iter().zip(bench.parts());
    let strained = parts.filter(|(part, state)| part.kind.is_harmed() && state.level == 1);
    strained.map(|(part, _)| part.id.as_str()).collect()
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;
    use cimento_model::faults::{Fault, read_short_form};

    /// A coil is harmed while the engine runs with a lead off, and not while it stands.
    #[test]
    fn a_coil_left_with_nowhere_to_spark_is_told() {
        let text = include_str!("../../../../../demo/circuits/baggage-tug-ignition.json");
        let circuit = cimento_parts::read_circuit(text).unwrap();
        let doc = read_short_form("W13:open").unwrap();
        let fault = Fault::read(&circuit, &doc, "fault").unwrap();
        let mut bench = Bench::new(&circuit, &[fault]).unwrap();
        let wait = Wait { minutes: 5.0 };
        assert!(wait.dangers(&bench, &Answer::Noted).is_empty());
        let mut state = bench.state().clone();
        for (control, position) in [("key", "run"), ("engine", "idle")] {
            state.set_control(control, position.to_owned());
        }
        bench.set(state).unwrap();
        let told = wait.dangers(&bench, &Answer::Noted);
        assert_eq!(told.len(), 1);
        assert!(told[0].text.starts_with("T1 was left to fire for 5 min"));
        assert!(!told[0].serious);
    }
}
