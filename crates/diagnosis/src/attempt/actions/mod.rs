//! What can be done at the bench: each action with its undoing has a file, and a line in the list below.

mod ask_customer;
mod capture;
mod claim;
mod climate;
mod control_module;
mod doubt_sheet;
mod enter;
mod find_no_fault;
mod hand_in;
mod hint;
mod inspect;
mod judge;
mod jump_pack;
mod known_good;
mod label;
mod lead;
mod meter_care;
mod moving;
mod name_fault;
mod near;
mod note;
mod open_sheet;
mod predict;
mod read_history;
mod repair;
mod seal;
mod second_visit;
mod set_control;
mod swap;
mod take_apart;
mod take_reading;
mod take_up;
mod try_complaint;
mod wait;
mod wire;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::perform::Outcome;
use super::session::{Refusal, Session};
use super::step::{Answer, Step};
use super::view::BenchView;
use crate::lesson::Means;
use cimento_bench::instruments::{Capture, Meter, Range, Reading, Scope};
use cimento_bench::{Bench, BenchError};
use cimento_model::state::OperatingState;

pub use ask_customer::AskCustomer;
pub use capture::TakeCapture;
pub(crate) use capture::minutes as screen_minutes;
pub use claim::{Clear, Suspect};
pub(super) use climate::SHOP_C;
pub use climate::{CoolDown, Dry, WarmUp, Wet};
pub use control_module::ClearCodes;
pub use doubt_sheet::DoubtSheet;
pub use enter::Enter;
pub use find_no_fault::FindNoFault;
pub use hand_in::HandIn;
pub use hint::Hint;
pub use inspect::Inspect;
pub use inspect::seen;
pub use judge::Judge;
pub use jump_pack::{Support, Unsupport};
pub use known_good::{FitKnownGood, FitOwn};
pub use label::Label;
pub use lead::{Join, Unjoin};
pub use meter_care::{RenewMeterFuse, ZeroLeads};
pub use moving::{Rest, Wiggle};
pub use name_fault::NameFault;
pub use note::Note;
pub use open_sheet::OpenSheet;
pub use predict::PredictReading;
pub use read_history::ReadHistory;
pub use repair::Repair;
pub use seal::Seal;
pub use second_visit::SecondVisit;
pub use set_control::SetControl;
pub use swap::Swap;
pub use take_apart::{PutBack, TakeApart};
pub use take_reading::TakeReading;
pub use take_up::TakeUp;
pub(crate) use try_complaint::MINUTES as TRIAL_MINUTES;
pub use try_complaint::TryComplaint;
pub use wait::Wait;
pub use wire::{SayPath, Unwire, Wire};

/// Minutes of a small movement of the hand, and of putting a lead or a hand where it is wanted; common
/// practice.
pub(super) const HAND_MINUTES: f64 = 0.1;
pub(super) const PLACING_MINUTES: f64 = 0.5;
/// Minutes of exchanging a part beyond reaching it; common practice.
pub(crate) const EXCHANGE_MINUTES: f64 = 2.0;

/// One kind of action. What is done to a machine implements [`Act::asks_for`] or [`Act::perform`], and the
/// session does the rest; what concerns the meter or the record implements [`Act::act`].
pub(crate) trait Act {
    /// What it was, as the record says it: "Took C14 apart".
    fn said(&self, answer: &Answer) -> String;

    /// What it needs, if a lesson may forbid that. What undoes something is always allowed.
    fn needs() -> Option<Means>
    where
        Self: Sized,
    {
        None
    }

    /// What it needs beside that, done in this way.
    fn needs_so(&self) -> Option<Means> {
        None
    }

    /// It concludes the search for a fault: nothing to do on a machine that is healthy.
    fn concludes(&self) -> bool {
        false
    }

    /// It is written, and nothing is done to the machine.
    fn is_written(&self) -> bool {
        false
    }

    /// It is done with the meter, or with a lever while the meter stands: all there is to do at leads without a name.
    fn is_at_the_meter(&self) -> bool {
        false
    }

    /// It changes how a machine that is to be built is wired.
    fn wires(&self) -> bool {
        false
    }

    /// It takes something of the machine apart or renews it.
    fn opens(&self) -> bool {
        false
    }

    /// Minutes that it takes at the machine as it stands.
    ///
    /// # Errors
    /// [`Refusal`] when it cannot be done there, with what to do instead.
    fn minutes(&self, _session: &Session) -> Result<f64, Refusal> {
        Ok(HAND_MINUTES)
    }

    /// Minutes that it takes where it comes to nothing.
    ///
    /// # Errors
    /// As [`Act::minutes`].
    fn minutes_in_vain(&self, session: &Session) -> Result<f64, Refusal> {
        self.minutes(session)
    }

    /// The operating state that it asks for, if all it does is to change that.
    fn asks_for(&self, _bench: &Bench) -> Option<OperatingState> {
        None
    }

    /// Does it to a machine: the same for the student's, a healthy one, and that of every suspect. What
    /// only concerns the meter or the record does nothing.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution afterwards.
    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        let Some(state) = self.asks_for(bench) else {
            return Ok(Outcome::default());
        };
        bench.set(state)?;
        Ok(Outcome::done())
    }

    /// Does it in an attempt: the answer, and the minutes it took.
    ///
    /// # Errors
    /// [`Refusal`] with a sentence that says what to do instead; nothing has changed then.
    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let minutes = self.minutes(session)?;
        Ok((session.change_machine(self)?, minutes))
    }

    /// What its answer is evidence of.
    fn evidence<'a>(&'a self, _answer: &'a Answer) -> Evidence<'a> {
        Evidence::Machine
    }

    /// What is dangerous about it; the machine stands as it does afterwards.
    fn dangers(&self, _bench: &Bench, _answer: &Answer) -> Vec<Danger> {
        Vec::new()
    }

    /// Puts it into the student's view, which shows what was done before it.
    fn show(&self, _step: &Step, _view: &mut BenchView) {}

    /// The earlier step whose line in the view it changed.
    fn changes_line(&self, _step: &Step, _view: &BenchView) -> Option<usize> {
        None
    }
}

/// What an answer says about the machine.
pub(crate) enum Evidence<'a> {
    /// Nothing: it only stands on record.
    Nothing,
    /// The machine was put through it, and answered as it did.
    Machine,
    /// The meter is another from here on.
    OfMeter(fn(&mut Meter)),
    Reading {
        reading: &'a Reading,
        range: Option<Range>,
    },
    Look {
        place: &'a str,
        text: &'a str,
    },
    Screen {
        scope: &'a Scope,
        capture: &'a Capture,
    },
}

/// Something that would have hurt someone or burnt something on a real machine.
pub(crate) struct Danger {
    pub serious: bool,
    pub text: String,
}

/// Declares the actions: the word of each in documents, which is its name in small letters, and its type.
macro_rules! actions {
    ($($word:literal $name:ident $of:ident),* $(,)?) => {
        /// One action.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
        #[serde(tag = "do", rename_all = "snake_case")]
        pub enum Action {
            $($name($of),)*
        }

        impl Action {
            /// The word of every action in documents.
            pub const WORDS: &[&str] = &[$($word),*];

            /// What an action of a word needs, if a lesson may forbid that.
            pub fn needs(word: &str) -> Option<Means> {
                match word {
                    $($word => <$of as Act>::needs(),)*
                    _ => None,
                }
            }

            fn word(&self) -> &'static str {
                match self {
                    $(Self::$name(_) => $word,)*
                }
            }

            /// What this one is, does and says.
            pub(crate) fn kind(&self) -> &dyn Act {
                match self {
                    $(Self::$name(it) => it,)*
                }
            }
        }

        $(impl From<$of> for Action {
            fn from(it: $of) -> Self {
                Self::$name(it)
            }
        })*
    };
}

actions! {
    "set_control" SetControl SetControl,
    "take_apart" TakeApart TakeApart,
    "put_back" PutBack PutBack,
    "label" Label Label,
    "join" Join Join,
    "unjoin" Unjoin Unjoin,
    "support" Support Support,
    "unsupport" Unsupport Unsupport,
    "wiggle" Wiggle Wiggle,
    "rest" Rest Rest,
    "wait" Wait Wait,
    "warm_up" WarmUp WarmUp,
    "cool_down" CoolDown CoolDown,
    "wet" Wet Wet,
    "dry" Dry Dry,
    "inspect" Inspect Inspect,
    "swap" Swap Swap,
    "fit_known_good" FitKnownGood FitKnownGood,
    "fit_own" FitOwn FitOwn,
    "clear_codes" ClearCodes ClearCodes,
    "zero_leads" ZeroLeads ZeroLeads,
    "renew_meter_fuse" RenewMeterFuse RenewMeterFuse,
    "ask_customer" AskCustomer AskCustomer,
    "read_history" ReadHistory ReadHistory,
    "open_sheet" OpenSheet OpenSheet,
    "doubt_sheet" DoubtSheet DoubtSheet,
    "try_complaint" TryComplaint TryComplaint,
    "take_reading" TakeReading TakeReading,
    "seal" Seal Seal,
    "capture" Capture TakeCapture,
    "judge" Judge Judge,
    "clear" Clear Clear,
    "suspect" Suspect Suspect,
    "note" Note Note,
    "predict" Predict PredictReading,
    "enter" Enter Enter,
    "wire" Wire Wire,
    "unwire" Unwire Unwire,
    "say_path" SayPath SayPath,
    "name_fault" NameFault NameFault,
    "find_no_fault" FindNoFault FindNoFault,
    "repair" Repair Repair,
    "second_visit" SecondVisit SecondVisit,
    "hand_in" HandIn HandIn,
    "hint" Hint Hint,
    "take_up" TakeUp TakeUp,
}

impl Action {
    /// What it needs, if a lesson may forbid that.
    pub fn means(&self) -> Option<Means> {
        Self::needs(self.word()).or_else(|| self.kind().needs_so())
    }

    /// The words of the actions that a lesson forbids whichever way they are done.
    pub fn forbidden(by: &[Means]) -> Vec<&'static str> {
        let words = Self::WORDS.iter().copied();
        words
            .filter(|word| Self::needs(word).is_some_and(|needs| by.contains(&needs)))
            .collect()
    }
}
