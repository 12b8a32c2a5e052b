//! Opening a sheet of the binder.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::ask_customer::MINUTES;
use super::{Act, Evidence};
use crate::binder::Binder;

/// Look a sheet of the binder up. It stays open.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpenSheet {
    pub sheet: String,
}

/// The binder of a session's lesson, and the title of one of its sheets.
pub(super) fn titled<'a>(
    session: &'a Session,
    sheet: &str,
) -> Result<(&'a Binder, String), Refusal> {
    let Some(binder) = &session.lesson.binder else {
        return bad("this machine came without a binder".to_owned());
    };
    let mut contents = binder.contents().into_iter();
    match contents.find(|entry| entry.sheet == sheet) {
        Some(entry) => Ok((binder, entry.title)),
        None => bad(format!("the binder has no sheet {sheet}")),
    }
}

impl Act for OpenSheet {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Told { text } => format!("Opened the sheet “{text}”"),
            _ => format!("Opened the sheet {}", self.sheet),
        }
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let (_, title) = titled(session, &self.sheet)?;
        if session.opened().contains(&self.sheet) {
            return bad(format!("“{title}” lies open already"));
        }
        Ok((Answer::Told { text: title }, MINUTES))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, _: &Step, view: &mut BenchView) {
        view.opened.push(self.sheet.clone());
    }
}
