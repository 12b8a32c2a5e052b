//! The complaint tried once more: what a machine does then that has not changed since it came in.

use super::tracks::Suspects;
use crate::attempt::{Action, Answer, Outcome};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Place;

impl Suspects {
    /// Where an act tries the complaint once more, on a machine of which nothing stands otherwise than when it came in:
    /// the parts that were exchanged since. None where it is another trial.
    pub(super) fn tries_again(&self, action: &Action) -> Option<Vec<usize>> {
        // What shows hot, wet or moved is tried as it happens to stand, and may not show.
        if !matches!(action, Action::TryComplaint(_)) || self.lesson.condition().is_some() {
            return None;
        }
        let circuit = &self.lesson.circuit;
        let mut exchanged = Vec::new();
        let mut apart: Vec<&str> = Vec::new();
        for act in &self.history {
            let parts: &[&String] = match act {
                Action::Swap(it) => &[&it.a, &it.b],
                Action::FitKnownGood(it) => &[&it.part],
                Action::FitOwn(it) => &[&it.part],
                Action::TakeApart(it) => {
                    apart.push(&it.what);
                    &[]
                }
                Action::PutBack(it) => {
                    apart.retain(|what| *what != it.what);
                    &[]
                }
                // The trial sets them all itself.
                Action::SetControl(_) | Action::TryComplaint(_) => &[],
                _ => return None,
            };
            for part in parts {
                exchanged.push(circuit.parts.iter().position(|p| p.id == **part)?);
            }
        }
        (apart.is_empty() && !exchanged.is_empty()).then_some(exchanged)
    }

    /// Whether a trial with these parts exchanged is, for a candidate that leaves all of them sound, the same once more.
    pub(super) fn is_untouched(&self, candidate: usize, exchanged: Option<&[usize]>) -> bool {
        let of = |part: usize| move |p: &Place| matches!(p, Place::Part(n) | Place::Pin(n, _) if *n == part);
        let places = &self.candidates[candidate].places;
        exchanged.is_some_and(|parts| !parts.iter().any(|part| places.iter().any(of(*part))))
    }

    /// Whether a machine answers as was seen. Of the two ends of a wire one may never have done what was seen at first: that it
    /// does the same once more, where the trial is the same, makes it no suspect.
    pub(super) fn is_as_seen(
        &self,
        bench: &Bench,
        outcome: &Outcome,
        answer: &Answer,
        repeats: bool,
    ) -> Result<bool, BenchError> {
        let seen = &self.lesson.symptom;
        let otherwise =
            matches!(answer, Answer::Complaint { complaint } if !complaint.same_as(seen));
        if !outcome.answers(answer) || !repeats || !otherwise {
            return Ok(outcome.answers(answer));
        }
        let trial = self.lesson.trial();
        let (_, first) = trial.run_beside(seen, bench.faults(), &self.shared, None)?;
        Ok(first.same_as(seen))
    }
}
