//! A verdict on what was read.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step, Verdict};
use super::super::view::BenchView;
use super::{Act, Evidence};

/// A verdict on the reading or the screen of an earlier step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Judge {
    pub step: usize,
    pub verdict: Verdict,
}

impl Act for Judge {
    fn said(&self, _: &Answer) -> String {
        format!("Judged step {} {}", self.step, self.verdict.text())
    }

    fn is_at_the_meter(&self) -> bool {
        true
    }

    /// A screen is normal or not, a reading has a direction.
    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let is_screen = session.is_capture(self.step);
        if !is_screen {
            session.reading(self.step)?;
        }
        let of_a_screen = matches!(
            self.verdict,
            Verdict::Normal | Verdict::Abnormal | Verdict::TellsNothing
        );
        match (is_screen, self.verdict) {
            (true, _) if !of_a_screen => {
                bad("a screen is judged normal, not normal, or as telling nothing".to_owned())
            }
            (false, Verdict::Abnormal) => {
                bad("say whether the reading is too low or too high".to_owned())
            }
            _ => Ok((Answer::Noted, 0.0)),
        }
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        let line = view.ledger.iter_mut().find(|l| l.step == self.step);
        let shot = view.captures.iter_mut().find(|c| c.step == self.step);
        let line = line.map(|l| (&mut l.verdict, Some(&mut l.first_verdict), &mut l.partner));
        let shot = shot.map(|c| (&mut c.verdict, None, &mut c.partner));
        for (own, first, partner) in line.into_iter().chain(shot) {
            if step.by_partner {
                let partner = partner.get_or_insert_default();
                partner.judged(self.verdict, own.is_some());
                continue;
            }
            let before = own.replace(self.verdict);
            if let Some(first) = first {
                *first = first.or(before);
            }
            if let Some(partner) = partner {
                partner.may_be_seen();
            }
        }
    }

    fn changes_line(&self, _: &Step, _: &BenchView) -> Option<usize> {
        Some(self.step)
    }
}
