//! Where somebody begins: what was marked and what to practise, and for who teaches, who needs help now.

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::lesson::Purpose;
use cimento_diagnosis::marking::{Debrief, PractiseOn};
use cimento_store::{AttemptRow, BookOf, Whose};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::book::final_of;
use super::live::bench;
use crate::access::{is_to_do, sheet_shows, unopened};
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{Staff, Student};
use crate::state::AppState;

/// So many marks are shown, the latest first.
const MARKED: usize = 5;
/// Who has done nothing for so long is not at work, in seconds.
const AT_WORK_S: i64 = 20 * 60;
/// Who has learnt nothing for so long may need help, in seconds; common practice.
const STUCK_S: i64 = 5 * 60;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(marked))
        .routes(routes!(help))
}

/// What came of one's work.
#[derive(Serialize, ToSchema)]
struct Came {
    /// The latest that show, latest first.
    marked: Vec<MarkedItem>,
    /// What the latest of them says to practise; empty when there is none.
    practise: String,
    /// A lesson on which that can be practised: given out, and not done.
    lesson: Option<PracticeItem>,
}

#[derive(Serialize, ToSchema)]
struct MarkedItem {
    attempt: i32,
    title: String,
    /// The total by the school's scale.
    says: String,
}

/// A lesson that somebody has and can begin.
#[derive(Serialize, ToSchema)]
pub(super) struct PracticeItem {
    attempt: i32,
    title: String,
}

impl PracticeItem {
    pub(super) fn of(row: &AttemptRow) -> Self {
        Self {
            attempt: row.id,
            title: row.lesson_title.clone(),
        }
    }
}

/// What was marked of one's own work, and what to practise next.
#[utoipa::path(get, operation_id = "start_marked", path = "/api/start/marked", responses((status = 200, body = Came)))]
async fn marked(
    State(state): State<AppState>,
    Student(student): Student,
) -> Result<Json<Came>, Problem> {
    let came = state.work(move |s| {
        let (at, scale) = (now(), s.store.scale()?);
        let rows = s.store.attempts(Whose::Of(student.id))?;
        let entries = s.store.book(BookOf::Student(student.id))?;
        let mut out = Came {
            marked: Vec::new(),
            practise: String::new(),
            lesson: None,
        };
        let mut open: Vec<(Purpose, &AttemptRow)> = Vec::new();
        let mut practise_on = PractiseOn::default();
        let mut done: Vec<(i64, &AttemptRow, f64)> = Vec::new();
        for row in rows.iter().filter(|r| r.given.is_some()) {
            let purpose = s.lesson(row.lesson_id)?.purpose;
            if is_open(row, at) {
                open.push((purpose, row));
            }
            if purpose != Purpose::Marks || !row.handed_in || !sheet_shows(row, purpose, at) {
                continue;
            }
            let entry = entries.iter().find(|e| e.attempt == row.id);
            if let Some(entry) = entry
                && let Some(total) = final_of(s, entry)?
            {
                done.push((entry.handed_in_at.unwrap_or_default(), row, total));
            }
        }
        done.sort_by_key(|(at, row, _)| std::cmp::Reverse((*at, row.id)));
        if let Some((_, row, _)) = done.first()
            && let Some(kept) = s.store.standing_sheet(row.id)?
        {
            let debrief: Result<Debrief, _> = serde_json::from_str(&kept.debrief);
            if let Ok(debrief) = debrief {
                practise_on = debrief.practise_on;
                out.practise = debrief.practise;
            }
        }
        // On what suits it best, and else on any bench without marks.
        let best = match practise_on {
            PractiseOn::Tools => [Purpose::Tools, Purpose::Practice],
            PractiseOn::Practice => [Purpose::Practice, Purpose::Tools],
            PractiseOn::Marks => [Purpose::Marks, Purpose::Practice],
        };
        let mut suited = best
            .iter()
            .filter_map(|b| open.iter().find(|(p, _)| p == b));
        out.lesson = suited.next().map(|(_, row)| PracticeItem::of(row));
        let item = |(_, row, total): &(i64, &AttemptRow, f64)| MarkedItem {
            attempt: row.id,
            title: row.lesson_title.clone(),
            says: scale.says(*total),
        };
        out.marked = done.iter().take(MARKED).map(item).collect();
        Ok(out)
    });
    Ok(Json(came.await?))
}

/// It can be worked on now.
pub(super) fn is_open(row: &AttemptRow, at: i64) -> bool {
    is_to_do(row, at) && row.given.as_ref().is_some_and(|g| !unopened(g, at))
}

/// A bench whose student may need help.
#[derive(Serialize, ToSchema)]
struct HelpItem {
    assignment: i32,
    title: String,
    class: String,
    student: String,
    attempt: i32,
    /// Minutes since something last told them more.
    stuck_minutes: i64,
    /// What they did last that would have hurt somebody.
    danger: Option<String>,
}

/// Who is at work in one's classes and may need help: who did something dangerous, and who has learnt nothing for some
/// minutes; the longest first.
#[utoipa::path(get, operation_id = "start_help", path = "/api/start/help", responses((status = 200, body = Vec<HelpItem>)))]
async fn help(
    State(state): State<AppState>,
    Staff(user): Staff,
) -> Result<Json<Vec<HelpItem>>, Problem> {
    let items = state.work(move |s| {
        let at = now();
        let active = s.store.active_since(at - AT_WORK_S)?;
        let rows = s.store.attempts(Whose::SeenBy(user.id))?;
        let mut out = Vec::new();
        for row in rows
            .iter()
            .filter(|r| !r.handed_in && active.contains(&r.id))
        {
            let Some(given) = &row.given else { continue };
            let bench = bench(s, row)?;
            let stuck_s = bench.gained_at.map_or(0, |gained| at - gained);
            let danger = bench.dangers.last().cloned();
            if stuck_s >= STUCK_S || danger.is_some() {
                out.push(HelpItem {
                    assignment: given.assignment,
                    title: row.lesson_title.clone(),
                    class: given.class_name.clone(),
                    student: bench.display,
                    attempt: row.id,
                    stuck_minutes: stuck_s / 60,
                    danger,
                });
            }
        }
        out.sort_by_key(|h| std::cmp::Reverse((h.danger.is_some(), h.stuck_minutes)));
        Ok(out)
    });
    Ok(Json(items.await?))
}
