//! The book of marks of a class: students by assignments, and the same as CSV.

use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use cimento_diagnosis::lesson::Purpose;
use cimento_diagnosis::marking::{MarkSheet, Scale};
use cimento_model::text::inert;
use cimento_store::{AssignmentRow, BookEntry, BookOf, Counts, Member, Role, User};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use crate::clock::now;
use crate::problem::Problem;
use crate::session::Staff;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(book))
        .routes(routes!(book_csv))
}

/// A class's book: a row a student, a column an assignment that is marked.
#[derive(Serialize, ToSchema)]
struct Book {
    class: String,
    /// The asker gives these marks.
    marks: bool,
    columns: Vec<BookColumn>,
    rows: Vec<BookRow>,
}

#[derive(Serialize, ToSchema)]
struct BookColumn {
    assignment: i32,
    title: String,
    due_at: Option<i64>,
    /// Of the final marks in it, those of erased work among them: how many, their mean and their median, once there are
    /// three.
    count: usize,
    mean: Option<f64>,
    median: Option<f64>,
    released: bool,
}

#[derive(Serialize, ToSchema)]
struct BookRow {
    student: i32,
    display: String,
    left: bool,
    /// One for each column; none where it was not given to them.
    cells: Vec<Option<BookCell>>,
    /// The mean of their final marks.
    mean: Option<f64>,
    /// The same by the school's scale.
    says: Option<String>,
}

/// What a student has of an assignment.
#[derive(Clone, Serialize, ToSchema)]
struct BookCell {
    /// The attempt that counts, or the latest.
    attempt: i32,
    attempts: usize,
    state: CellState,
    /// After it was due.
    late: bool,
    /// As computed, of 100.
    computed: Option<f64>,
    /// An instructor gave other marks.
    given: bool,
    /// What counts, of 100.
    #[serde(rename = "final")]
    counts: Option<f64>,
    /// The same by the school's scale.
    says: Option<String>,
}

#[derive(Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum CellState {
    NotBegun,
    AtWork,
    /// Handed in, and being marked.
    HandedIn,
    Marked,
    /// It was due, and there is nothing.
    Missing,
    Excused,
}

impl CellState {
    fn words(self) -> &'static str {
        match self {
            Self::NotBegun => "not begun",
            Self::AtWork => "at work",
            Self::HandedIn => "handed in",
            Self::Marked => "marked",
            Self::Missing => "missing",
            Self::Excused => "excused",
        }
    }
}

fn tenth(marks: f64) -> f64 {
    (10.0 * marks).round() / 10.0
}

fn mean(of: &[f64]) -> Option<f64> {
    (!of.is_empty()).then(|| tenth(of.iter().sum::<f64>() / of.len() as f64))
}

/// Fewer say more of one of them than of all.
const FEW: usize = 3;

fn median(of: &[f64]) -> Option<f64> {
    let mut sorted = of.to_vec();
    sorted.sort_by(f64::total_cmp);
    let n = sorted.len();
    let middle = (sorted.get(n.checked_sub(1)? / 2)?, sorted.get(n / 2)?);
    Some(tenth(0.5 * (middle.0 + middle.1)))
}

/// The final marks of an attempt: as computed, or with what an instructor gave.
pub(super) fn final_of(s: &AppState, entry: &BookEntry) -> Result<Option<f64>, Problem> {
    let Some(computed) = entry.computed else {
        return Ok(None);
    };
    if entry.given.is_empty() {
        return Ok(Some(computed));
    }
    let Some(kept) = s.store.standing_sheet(entry.attempt)? else {
        return Ok(Some(computed));
    };
    let sheet: Result<MarkSheet, _> = serde_json::from_str(&kept.sheet);
    let sheet = sheet.map_err(|e| {
        tracing::error!("a kept mark sheet cannot be read: {e}");
        Problem::internal()
    })?;
    let sheet = sheet.with_overrides(&entry.given).map_err(Problem::bad)?;
    Ok(Some(sheet.total))
}

/// What a student has of an assignment, from their attempts in order.
fn cell(
    s: &AppState,
    of: &AssignmentRow,
    entries: &[&BookEntry],
    (at, scale): (i64, &Scale),
) -> Result<Option<BookCell>, Problem> {
    let Some(latest) = entries.last() else {
        return Ok(None);
    };
    let mut marked = Vec::new();
    for entry in entries {
        if let Some(total) = final_of(s, entry)? {
            marked.push((*entry, total));
        }
    }
    let best = marked.iter().max_by(|a, b| a.1.total_cmp(&b.1));
    let totals: Vec<f64> = marked.iter().map(|(_, total)| *total).collect();
    let (which, counts) = match of.terms.counts {
        Counts::Best => (best, best.map(|(_, total)| *total)),
        Counts::Last => (marked.last(), marked.last().map(|(_, total)| *total)),
        Counts::Mean => (marked.last(), mean(&totals)),
    };
    let which = which.map_or(*latest, |(entry, _)| entry);
    let due = of.terms.due_at.or(of.terms.closes_at);
    let overdue = due.is_some_and(|due| due < at);
    let state = match (latest.excused, counts, which.handed_in_at, which.steps) {
        (true, ..) => CellState::Excused,
        (_, Some(_), ..) => CellState::Marked,
        (_, None, Some(_), _) => CellState::HandedIn,
        _ if overdue => CellState::Missing,
        (_, _, None, 0) => CellState::NotBegun,
        _ => CellState::AtWork,
    };
    let counts = counts.filter(|_| state != CellState::Excused);
    Ok(Some(BookCell {
        says: counts.map(|marks| scale.says(marks)),
        attempt: which.attempt,
        attempts: entries.len(),
        state,
        late: which
            .handed_in_at
            .is_some_and(|at| due.is_some_and(|due| due < at)),
        computed: which.computed,
        given: which.given.iter().any(|g| g.marks.is_some()),
        counts,
    }))
}

fn book_of(s: &AppState, class: i32, user: &User) -> Result<Book, Problem> {
    let found = s.store.class(class, user.id)?;
    if !matches!(found.asker, Some(Role::Instructor | Role::Assistant)) {
        return Err(Problem::not_found(&format!("class {class} of yours")));
    }
    let (at, scale) = (now(), s.store.scale()?);
    let entries = s.store.book(BookOf::Class(class))?;
    let figures = s.store.figures(class)?;
    let mut given = Vec::new();
    for row in s.store.assignments(user.id)?.into_iter().rev() {
        if row.class == class && s.lesson(row.lesson)?.purpose == Purpose::Marks {
            given.push(row);
        }
    }
    let members = s.store.members()?;
    let is = |m: &&Member| m.class == class && m.role == Role::Student;
    let mut rows = Vec::new();
    for member in members.iter().filter(is) {
        let mut cells = Vec::new();
        for assignment in &given {
            let own = |e: &&BookEntry| (e.assignment, e.student) == (assignment.id, member.person);
            let own: Vec<&BookEntry> = entries.iter().filter(own).collect();
            cells.push(cell(s, assignment, &own, (at, &scale))?);
        }
        let all: Vec<f64> = cells.iter().flatten().filter_map(|c| c.counts).collect();
        rows.push(BookRow {
            student: member.person,
            display: member.display.clone(),
            left: member.left,
            mean: mean(&all),
            says: mean(&all).map(|marks| scale.says(marks)),
            cells,
        });
    }
    let column = |(n, row): (usize, &AssignmentRow)| {
        let cells = rows.iter().filter_map(|r| r.cells[n].as_ref());
        let erased = figures
            .iter()
            .filter(|(assignment, _)| *assignment == row.id);
        let own = cells.filter_map(|c| c.counts);
        let all: Vec<f64> = own.chain(erased.map(|(_, total)| *total)).collect();
        let enough = all.len() >= FEW;
        BookColumn {
            assignment: row.id,
            title: row.lesson_title.clone(),
            due_at: row.terms.due_at,
            count: all.len(),
            mean: mean(&all).filter(|_| enough),
            median: median(&all).filter(|_| enough),
            released: row.released_at.is_some(),
        }
    };
    Ok(Book {
        class: found.name,
        marks: found.asker == Some(Role::Instructor),
        columns: given.iter().enumerate().map(column).collect(),
        rows,
    })
}

/// The book of marks of a class that one teaches or helps in.
#[utoipa::path(get, operation_id = "classes_book", path = "/api/classes/{id}/book", params(("id" = i32, Path)), responses((status = 200, body = Book), (status = 404, body = Problem)))]
async fn book(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<Json<Book>, Problem> {
    let book = state.work(move |s| book_of(s, id, &user));
    Ok(Json(book.await?))
}

/// The same as CSV: a line for each student and assignment.
#[utoipa::path(get, operation_id = "classes_book_csv", path = "/api/classes/{id}/book.csv", params(("id" = i32, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
async fn book_csv(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, Problem> {
    let text = state.work(move |s| {
        let book = book_of(s, id, &user)?;
        csv_of(&book).map_err(|e| {
            tracing::error!("{e}");
            Problem::internal()
        })
    });
    let name = format!("attachment; filename=\"class-{id}-marks.csv\"");
    let kind = "text/csv; charset=utf-8".to_owned();
    Ok((
        [
            (header::CONTENT_TYPE, kind),
            (header::CONTENT_DISPOSITION, name),
        ],
        text.await?,
    ))
}

fn csv_of(book: &Book) -> Result<String, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
    out.write_record([
        "student",
        "assignment",
        "state",
        "late",
        "attempts",
        "computed",
        "given",
        "final",
        "says",
    ])?;
    let number = |n: Option<f64>| n.map_or(String::new(), |n| n.to_string());
    let yes = |is: bool| if is { "yes" } else { "" };
    for row in &book.rows {
        for (column, cell) in book.columns.iter().zip(&row.cells) {
            let Some(cell) = cell else {
                continue;
            };
            out.write_record([
                inert(&row.display).as_str(),
                &inert(&column.title),
                cell.state.words(),
                yes(cell.late),
                &cell.attempts.to_string(),
                &number(cell.computed),
                yes(cell.given),
                &number(cell.counts),
                &inert(cell.says.as_deref().unwrap_or_default()),
            ])?;
        }
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// By hand.
    #[test]
    fn mean_and_median_of_few() {
        assert_eq!((mean(&[]), median(&[])), (None, None));
        assert_eq!((mean(&[7.0]), median(&[7.0])), (Some(7.0), Some(7.0)));
        let uneven = [90.0, 10.0, 40.0];
        assert_eq!((mean(&uneven), median(&uneven)), (Some(46.7), Some(40.0)));
        let even = [90.0, 10.0, 41.0, 40.0];
        assert_eq!((mean(&even), median(&even)), (Some(45.3), Some(40.5)));
    }
}
