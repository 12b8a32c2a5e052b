//! What a student's browser may know of an attempt: the machine's controls, and the ledger of what
//! the student did and read. Never a fault, a key, a candidate or a voltage that was not measured.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::actions::SHOP_C;
use super::missing::missing;
use super::pair::PartnerSaid;
use super::session::Session;
use super::step::{Answer, Step, Supposed, Verdict};
use crate::lesson::CustomerQuestion;
use crate::predict::Reason;
use cimento_bench::Complaint;
use cimento_bench::instruments::{Capture, Function, Looks, Shown};
use cimento_model::circuit::{Problem, WireDoc};
use cimento_model::part::Notice;

/// Screens of the oscilloscope that a view holds.
const CAPTURES: usize = 4;

/// A student's bench.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BenchView {
    /// How many steps are on record: the next one must follow this.
    pub steps: usize,
    pub minutes: f64,
    /// The state the machine is in, as readings name it.
    pub state: String,
    pub controls: Vec<ControlView>,
    /// What is noticed in the present state.
    pub notices: Vec<Notice>,
    pub ledger: Vec<LedgerLine>,
    /// The last few screens of the oscilloscope, newest last.
    pub captures: Vec<CaptureAt>,
    /// Why what was done last came to nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub came_to_nothing: Option<String>,
    /// The complaint as last tried on this bench.
    pub tried: Option<Complaint>,
    pub named: Option<NamedFault>,
    /// The step at which it was said that nothing is wrong.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub no_fault: Option<usize>,
    pub repairs: Vec<String>,
    /// What the customer said, and what is on record.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub told: Vec<ToldAt>,
    /// Sheets of the binder that lie open, in the order in which they were opened.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub opened: Vec<String>,
    /// What was said to be another variant's.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub doubted: Vec<DoubtedAt>,
    /// What was heard of the machine after it was given back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seen_again: Option<SeenAgain>,
    /// Places that the student has cleared, and those held suspect; the last word on a place counts.
    pub cleared: Vec<String>,
    pub suspected: Vec<String>,
    /// Hints given in practice, newest last.
    pub hints: Vec<HintAt>,
    /// Notes that belong to no reading.
    pub notes: Vec<String>,
    /// What was found at the places looked at closely, newest last.
    pub seen: Vec<SeenAt>,
    /// Connectors whose halves bear labels.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub labelled: Vec<String>,
    /// What is unplugged or pulled now.
    pub apart: Vec<String>,
    /// Pairs of test points joined by a lead.
    pub joined: Vec<[String; 2]>,
    /// A jump pack is on.
    pub supported: bool,
    /// What is being moved.
    pub moved: Vec<String>,
    /// Parts that are out while a known-good one stands in.
    pub lent: Vec<String>,
    pub warm: bool,
    pub wet: bool,
    /// The leads' own resistance has been taken off.
    pub zeroed: bool,
    pub meter_fuse_blown: bool,
    pub handed_in: bool,
    /// Wires with a hole in their insulation that a needle left.
    pub pierced: Vec<String>,
    /// What was predicted, by the number of the reading on the sheet.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub predicted: Vec<PredictedAt>,
    /// What was entered in the rows of the test sheet.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub entered: Vec<EnteredAt>,
    /// The wires of a machine that is to be built, as they are.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub wires: Vec<WireDoc>,
    /// What is to be looked at in that wiring.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub findings: Vec<String>,
    /// What the attempt still lacks before it is handed in, a sentence each.
    pub missing: Vec<String>,
}

/// A control of the machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ControlView {
    pub name: String,
    pub positions: Vec<String>,
    pub position: String,
}

/// The fault as the student named it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct NamedFault {
    pub step: usize,
    pub place: String,
    pub mode: String,
}

/// Something of a sheet that was said to be another variant's.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct DoubtedAt {
    pub step: usize,
    pub sheet: String,
    /// A connector.
    pub at: String,
}

/// What was told of the machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ToldAt {
    pub step: usize,
    /// What the customer was asked; none where it is on record.
    pub asked: Option<CustomerQuestion>,
    /// "Every time, or now and then?", "Earlier work".
    pub about: String,
    pub text: String,
}

impl ToldAt {
    pub(super) fn of(step: &Step, asked: Option<CustomerQuestion>, about: &str) -> Option<Self> {
        let Answer::Told { text } = &step.answer else {
            return None;
        };
        Some(Self {
            step: step.no,
            asked,
            about: about.to_owned(),
            text: text.clone(),
        })
    }
}

/// What was heard of a machine some weeks after it was given back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeenAgain {
    pub step: usize,
    pub came_back: bool,
    pub text: String,
}

/// A place looked at closely.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeenAt {
    pub step: usize,
    pub place: String,
    pub text: String,
}

/// A reading that was predicted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PredictedAt {
    pub step: usize,
    /// The number of the reading on the sheet, from 1.
    pub no: usize,
    pub expected: String,
    pub reason: Option<Reason>,
}

/// What was entered in a row of the test sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct EnteredAt {
    pub step: usize,
    /// The number of the row, from 1.
    pub row: usize,
    /// One of the sheet's choices.
    pub is: String,
}

/// A hint that was given.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct HintAt {
    pub step: usize,
    pub level: u8,
    pub text: String,
    /// Minutes that it cost.
    pub minutes: f64,
}

/// A screen of the oscilloscope.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CaptureAt {
    pub step: usize,
    pub capture: Capture,
    /// What the student said that each channel of a healthy machine shows.
    pub expected: Vec<Looks>,
    /// What the other of two at one bench said of it.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub partner_expected: Vec<Looks>,
    pub verdict: Option<Verdict>,
    /// The other of two at one bench took it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub by_partner: bool,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub partner: Option<PartnerSaid>,
    pub note: Option<String>,
}

/// A reading in the ledger.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LedgerLine {
    pub step: usize,
    pub state: String,
    pub function: Function,
    pub red: Option<String>,
    pub black: Option<String>,
    pub expected: Option<String>,
    /// The fault with which that was expected; none where it is of a healthy circuit.
    pub supposing: Option<Supposed>,
    /// The expectation as a number in volts or ohms, for drawing; absent for OL or none.
    pub expected_value: Option<f64>,
    pub shown: Shown,
    pub verdict: Option<Verdict>,
    /// The first verdict, where another followed: it stays on record.
    pub first_verdict: Option<Verdict>,
    /// The other of two at one bench took it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub by_partner: bool,
    /// What the other of two said of it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub partner: Option<PartnerSaid>,
    /// The student's own words on it.
    pub note: Option<String>,
    /// What was concluded after it and before the next: "cleared W8", "suspected C14.1".
    pub concluded: Vec<String>,
    /// Taken after the first repair.
    pub after_repair: bool,
}

impl BenchView {
    /// Puts a claim beside the reading that it follows.
    pub(super) fn conclude(&mut self, what: &str, places: &[String]) {
        let Some(line) = self.ledger.last_mut() else {
            return;
        };
        let places = places.join(", ");
        match line.concluded.last_mut() {
            Some(last) if last.starts_with(what) => *last += &format!(", {places}"),
            _ => line.concluded.push(format!("{what} {places}")),
        }
    }
}

impl BenchView {
    /// Puts a step on record.
    pub(super) fn add(&mut self, step: &Step) {
        step.action.kind().show(step, self);
        let old = self.captures.len().saturating_sub(CAPTURES);
        self.captures.drain(..old);
    }
}

impl Session {
    /// The student's view.
    pub fn view(&self) -> BenchView {
        let mut view = self.record().clone();
        self.show_machine(&mut view);
        view
    }

    /// The student's view, of whose growing lists only what was added or changed after some steps is
    /// there: lines of the ledger, screens, repairs, hints, notes and places looked at; and the trial,
    /// if there was one since.
    pub fn changes(&self, after: usize) -> BenchView {
        let new = &self.steps()[after.min(self.steps().len())..];
        let record = self.record();
        let mut changed: Vec<usize> = Vec::new();
        for step in new {
            let line = step.action.kind().changes_line(step, record);
            changed.extend([Some(step.no), line].into_iter().flatten());
        }
        let mut view = BenchView {
            named: record.named.clone(),
            no_fault: record.no_fault,
            seen_again: record.seen_again.clone(),
            cleared: record.cleared.clone(),
            suspected: record.suspected.clone(),
            predicted: record.predicted.clone(),
            entered: record.entered.clone(),
            ..BenchView::default()
        };
        let line = |step: usize| record.ledger.binary_search_by_key(&step, |l| l.step).ok();
        let mut lines: Vec<usize> = changed.iter().filter_map(|step| line(*step)).collect();
        lines.sort_unstable();
        lines.dedup();
        view.ledger = lines
            .into_iter()
            .map(|n| record.ledger[n].clone())
            .collect();
        let shots = record.captures.iter();
        view.captures = shots
            .filter(|c| changed.contains(&c.step))
            .cloned()
            .collect();
        let mut own = BenchView::default();
        for step in new {
            own.add(step);
        }
        view.repairs = own.repairs;
        view.hints = own.hints;
        view.notes = own.notes;
        view.seen = own.seen;
        view.told = own.told;
        view.opened = own.opened;
        view.doubted = own.doubted;
        view.tried = own.tried;
        self.show_machine(&mut view);
        view
    }

    /// What of the view is the machine as it stands.
    fn show_machine(&self, view: &mut BenchView) {
        let state = self.bench().state();
        let notices = self.bench().notices().into_iter();
        view.steps = self.steps().len();
        view.came_to_nothing = match self.steps().last().map(|s| &s.answer) {
            Some(Answer::CameToNothing { text }) => Some(text.clone()),
            _ => None,
        };
        view.minutes = self.steps().iter().map(|s| s.minutes).sum();
        view.state = state.about();
        view.controls = self.controls();
        view.notices = notices.filter(|n| !n.hidden).collect();
        view.apart = state
            .unplugged
            .iter()
            .chain(&state.removed)
            .cloned()
            .collect();
        view.labelled = self.bench().labelled().to_vec();
        view.joined.clone_from(&state.jumpers);
        view.supported = !state.supplies.is_empty();
        view.moved.clone_from(&state.moved);
        view.lent = self.bench().lent_parts();
        view.warm = state.temperature_c > SHOP_C;
        view.wet = state.wet;
        view.zeroed = self.meter().zeroed;
        view.meter_fuse_blown = self.meter().fuse_blown;
        view.handed_in = self.is_handed_in();
        view.pierced = self.pierced();
        view.missing = missing(self);
        if self.lesson.build.is_some() {
            let circuit = &self.bench().circuit;
            view.wires.clone_from(&circuit.doc.wires);
            let said = |p: &Problem| format!("{}: {}", p.path, p.message);
            view.findings = circuit.warnings.iter().map(said).collect();
        }
        if self.unmarked().is_some() {
            // What is noticed of the machine would name what the leads are of.
            view.notices.clear();
            view.apart.clear();
        }
    }

    fn controls(&self) -> Vec<ControlView> {
        let controls = self.bench().circuit.controls();
        controls
            .into_iter()
            .map(|c| ControlView {
                position: self.bench().state().control(&c.name).to_owned(),
                name: c.name,
                positions: c.positions,
            })
            .collect()
    }
}
