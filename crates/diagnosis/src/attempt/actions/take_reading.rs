//! Taking a reading.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::pair::{PartnerExpects, PartnerSaid};
use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step, Supposed};
use super::super::touch::Touch;
use super::super::view::{BenchView, LedgerLine};
use super::{Act, Danger, Evidence};
use crate::lesson::Means;
use cimento_bench::Bench;
use cimento_bench::instruments::{Function, Range, take_with};
use cimento_model::units::Expectation;

/// Minutes beyond reaching the points; common practice.
const MINUTES: f64 = 0.5;
/// Longest text taken as an expectation.
const LONGEST_TEXT: usize = 40;

/// Put an instrument on its points and read it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeReading {
    pub function: Function,
    /// Full scale of a range; automatic when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub range: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub red: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub black: Option<String>,
    /// What a healthy circuit should read, in the student's hand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub expected: Option<String>,
    /// The fault with which that is expected; a healthy circuit when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub supposing: Option<Supposed>,
    #[serde(default, skip_serializing_if = "Touch::is_back_probe")]
    pub touch: Touch,
    /// What the other of two at one bench expects; said by them alone.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub partner: Option<PartnerExpects>,
}

impl TakeReading {
    /// The points of the red and the black lead.
    pub fn leads(&self) -> [Option<&str>; 2] {
        [self.red.as_deref(), self.black.as_deref()]
    }

    /// The range that the student chose, of those that the function has.
    fn range(&self) -> Result<Option<Range>, Refusal> {
        let Some(full) = self.range else {
            return Ok(None);
        };
        let ranges = self.function.ranges();
        match ranges.iter().find(|have| have.0 == full) {
            Some(range) => Ok(Some(*range)),
            None => bad(format!("the meter has no range of {full} there")),
        }
    }

    /// Whether it can be taken at all, before anything is measured.
    pub(in super::super) fn may_be_taken(&self, session: &Session) -> Result<(), Refusal> {
        let expected = [
            self.supposing.as_ref(),
            self.partner.as_ref().and_then(|p| p.supposing.as_ref()),
        ];
        for fault in expected.into_iter().flatten() {
            session.may_fail(&fault.place, &fault.mode)?;
        }
        session.standing_on(self.leads())?;
        session.may_touch(self.touch, self.leads())?;
        if !session.lesson.functions.contains(&self.function) {
            return bad("this lesson does not use that function of the meter".to_owned());
        }
        self.range()?;
        // What was taken once is not refused when it is gone through again.
        match session.showed {
            None => self.may_expect(session.lesson.predictions),
            Some(_) => Ok(()),
        }
    }

    /// Whether the expectation is one, where the lesson asks for it.
    fn may_expect(&self, asked: bool) -> Result<(), Refusal> {
        match self.expected.as_deref() {
            None if asked => bad(
                "write down what a healthy circuit should read before you take the reading"
                    .to_owned(),
            ),
            Some(text) => is_expectation(text, self.function),
            None => Ok(()),
        }
    }
}

/// Whether what somebody wrote is an expectation of what an instrument shows.
pub(super) fn is_expectation(text: &str, function: Function) -> Result<(), Refusal> {
    let shown: String = text.chars().take(LONGEST_TEXT).collect();
    let read = Expectation::parse(&shown, function.unit());
    read.map_or_else(|e| bad(e.to_string()), |_| Ok(()))
}

impl Act for TakeReading {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Reading { reading } => format!("Read {}", reading.about()),
            _ => "Took a reading".to_owned(),
        }
    }

    fn is_at_the_meter(&self) -> bool {
        true
    }

    fn needs_so(&self) -> Option<Means> {
        (self.touch == Touch::Pierce).then_some(Means::Piercing)
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        self.may_be_taken(session)?;
        let range = self.range()?;
        let [red, black] = session.standing_on(self.leads())?;
        let reading = match &session.showed {
            Some(Answer::Reading { reading }) => reading.clone(),
            _ => {
                let taken = take_with(
                    &session.meter,
                    &session.bench,
                    self.function,
                    range,
                    red.as_deref(),
                    black.as_deref(),
                );
                let mut reading = taken.map_err(|e| session.not_taken(e))?;
                if red.as_deref() != self.red.as_deref()
                    || black.as_deref() != self.black.as_deref()
                {
                    // On record as whoever measured calls them.
                    reading.red.clone_from(&self.red);
                    reading.black.clone_from(&self.black);
                }
                reading
            }
        };
        session.meter.fuse_blown |= reading.blew;
        let mut minutes = MINUTES;
        for (lead, id) in session.leads.iter_mut().zip([&reading.red, &reading.black]) {
            if id != lead {
                let circuit = &session.lesson.circuit;
                let point = id.as_deref().and_then(|id| circuit.test_point(id));
                minutes += point.map_or(0.0, |p| self.touch.way_minutes(circuit, p));
                lead.clone_from(id);
            }
        }
        Ok((Answer::Reading { reading }, minutes))
    }

    fn evidence<'a>(&'a self, answer: &'a Answer) -> Evidence<'a> {
        match answer {
            Answer::Reading { reading } => Evidence::Reading {
                reading,
                range: self.range.map(Range),
            },
            _ => Evidence::Nothing,
        }
    }

    fn dangers(&self, _: &Bench, answer: &Answer) -> Vec<Danger> {
        match answer {
            Answer::Reading { reading } if reading.blew => vec![Danger {
                serious: true,
                text: "An ammeter was put across a source: on a real meter without its fuse the leads burn."
                    .to_owned(),
            }],
            _ => Vec::new(),
        }
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        let Answer::Reading { reading } = &step.answer else {
            return;
        };
        let expected = self.expected.as_deref();
        let read = |text| Expectation::parse(text, reading.function.unit()).ok();
        let value = expected.and_then(read).map(|e| e.value);
        view.ledger.push(LedgerLine {
            step: step.no,
            state: reading.state.clone(),
            function: reading.function,
            red: reading.red.clone(),
            black: reading.black.clone(),
            expected: self.expected.clone(),
            supposing: self.supposing.clone(),
            expected_value: value.map(|v| v.number()).filter(|n| n.is_finite()),
            shown: reading.shown.clone(),
            verdict: None,
            first_verdict: None,
            by_partner: step.by_partner,
            partner: self.partner.as_ref().map(|p| PartnerSaid {
                expected: p.expected.clone(),
                supposing: p.supposing.clone(),
                ..PartnerSaid::default()
            }),
            note: None,
            concluded: Vec::new(),
            after_repair: !view.repairs.is_empty(),
        });
    }
}
