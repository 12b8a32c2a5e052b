//! What was made of the machine's papers: a sheet of another variant that was taken for its own, and the other way round.

use super::case::Case;
use super::slips::{Slip, SlipKind};
use crate::attempt::Action;
use crate::binder::Binder;

/// The slips with sheets.
pub(super) fn of_papers(case: &Case<'_>) -> Vec<Slip> {
    let Some(binder) = &case.lesson.binder else {
        return Vec::new();
    };
    let doubts = case.steps.iter().filter_map(|s| match &s.action {
        Action::DoubtSheet(it) => Some((s.no, it)),
        _ => None,
    });
    let (right, wrong): (Vec<_>, Vec<_>) =
        doubts.partition(|(_, it)| binder.is_foreign(&it.sheet, &it.at));
    let wrong = wrong.into_iter().map(|(step, it)| Slip {
        step,
        kind: SlipKind::OwnSheetDoubted,
        text: format!(
            "What the sheet shows of {} was called another variant's: it is as on this machine.",
            it.at
        ),
    });
    let trusted = right.is_empty().then(|| trusted(case, binder)).flatten();
    wrong.chain(trusted).collect()
}

/// A sheet of another variant that lay open and was never doubted.
fn trusted(case: &Case<'_>, binder: &Binder) -> Option<Slip> {
    let foreign = binder.variant.as_ref()?;
    let opened = case.steps.iter().find(|s| match &s.action {
        Action::OpenSheet(it) => binder.is_foreign(&it.sheet, foreign),
        _ => false,
    })?;
    Some(Slip {
        step: opened.no,
        kind: SlipKind::ForeignSheetTrusted,
        text: format!(
            "The sheet is another variant's, and nobody said so: {}. Colour and cavity tell.",
            binder.differs()?
        ),
    })
}
