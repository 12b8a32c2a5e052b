//! The book of marks of a class: students by assignments, and the same as CSV.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_diagnosis::lesson::Purpose;
use cimento_diagnosis::marking::{MarkSheet, Scale};
use cimento_model::text::inert;
use cimento_store::{AssignmentRow, BookEntry, BookOf, Counts, Member, Role, User};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::assignments::LONGEST_CATEGORY;
use super::extract::{Body, Path};
use super::file::{CSV, File, csv, file};
use crate::access::taught;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{Instructor, Staff};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(book))
        .routes(routes!(book_csv))
        .routes(routes!(weigh))
}

/// A class's book: a row a student, a column an assignment that is marked.
#[derive(Serialize, ToSchema)]
pub(super) struct Book {
    class: String,
    /// The asker gives these marks.
    marks: bool,
    pub columns: Vec<BookColumn>,
    pub rows: Vec<BookRow>,
    /// The categories that there are, with the weight of each in a student's mean; all weigh as much by assignment where
    /// none was set.
    categories: Vec<CategoryWeight>,
}

/// A category with its weight.
#[derive(Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CategoryWeight {
    category: String,
    /// Absent where the class has set none.
    weight: Option<f64>,
}

#[derive(Serialize, ToSchema)]
pub(super) struct BookColumn {
    pub assignment: i32,
    pub title: String,
    pub category: String,
    pub made_at: i64,
    pub due_at: Option<i64>,
    /// Of the final marks in it, those of erased work among them: how many, their mean and their median, once there are
    /// three.
    count: usize,
    mean: Option<f64>,
    median: Option<f64>,
    released: bool,
}

#[derive(Serialize, ToSchema)]
pub(super) struct BookRow {
    pub student: i32,
    display: String,
    left: bool,
    /// One for each column; none where it was not given to them.
    pub cells: Vec<Option<BookCell>>,
    /// The mean of their final marks, as the class weighs its categories.
    mean: Option<f64>,
    /// The same by the school's scale.
    says: Option<String>,
}

/// What a student has of an assignment.
#[derive(Clone, Serialize, ToSchema)]
pub(super) struct BookCell {
    /// The attempt that counts, or the latest.
    pub attempt: i32,
    attempts: usize,
    pub state: CellState,
    /// When it was handed in.
    pub handed_in_at: Option<i64>,
    /// After it was due.
    late: bool,
    /// As computed, of 100.
    computed: Option<f64>,
    /// An instructor gave other marks.
    given: bool,
    /// What counts, of 100.
    #[serde(rename = "final")]
    pub counts: Option<f64>,
    /// The same by the school's scale.
    says: Option<String>,
}

#[derive(Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(super) enum CellState {
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

/// A student's mean: of all their marks, or where the class weighs its categories, of the means of these. A category
/// without a weight of its own weighs 1.
fn weighed<'a>(
    marks: impl Iterator<Item = (&'a str, f64)>,
    weights: &BTreeMap<String, f64>,
) -> Option<f64> {
    let mut by: BTreeMap<&str, Vec<f64>> = BTreeMap::new();
    for (category, marks) in marks {
        let of = if weights.is_empty() { "" } else { category };
        by.entry(of).or_default().push(marks);
    }
    let weight = |category: &str| weights.get(category).copied().unwrap_or(1.0);
    let (mut sum, mut of) = (0.0, 0.0);
    for (category, marks) in by {
        let mean = marks.iter().sum::<f64>() / marks.len() as f64;
        sum += weight(category) * mean;
        of += weight(category);
    }
    (of > 0.0).then(|| tenth(sum / of))
}

/// Fewer say more of one of them than of all.
const FEW: usize = 3;
/// Largest weight of a category.
const MOST_WEIGHT: f64 = 100.0;

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
        handed_in_at: which.handed_in_at,
        state,
        late: which
            .handed_in_at
            .is_some_and(|at| due.is_some_and(|due| due < at)),
        computed: which.computed,
        given: which.given.iter().any(|g| g.marks.is_some()),
        counts,
    }))
}

pub(super) fn book_of(s: &AppState, class: i32, user: &User) -> Result<Book, Problem> {
    let found = s.store.class(class, user.id)?;
    if !matches!(found.asker, Some(Role::Instructor | Role::Assistant)) {
        return Err(Problem::not_found(&format!("class {class} of yours")));
    }
    let (at, scale) = (now(), s.store.scale()?);
    let entries = s.store.book(BookOf::Class(class))?;
    let figures = s.store.figures(class)?;
    let weights = s.store.category_weights(class)?;
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
        let marks = cells
            .iter()
            .zip(&given)
            .filter_map(|(cell, row)| Some((row.terms.category.as_str(), cell.as_ref()?.counts?)));
        let mean = weighed(marks, &weights);
        rows.push(BookRow {
            student: member.person,
            display: member.display.clone(),
            left: member.left,
            mean,
            says: mean.map(|marks| scale.says(marks)),
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
            category: row.terms.category.clone(),
            made_at: row.made_at,
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
        categories: s
            .store
            .categories(class)?
            .into_iter()
            .map(|category| CategoryWeight {
                weight: weights.get(&category).copied(),
                category,
            })
            .collect(),
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

/// Weights of a class's categories, all of them together.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewWeights {
    categories: Vec<CategoryWeight>,
}

/// Weigh the categories of what a class was given in its students' means; those without a weight weigh 1, and none that
/// is weighed lets every assignment count alike.
#[utoipa::path(put, operation_id = "classes_weigh", path = "/api/classes/{id}/weights", params(("id" = i32, Path)), request_body = NewWeights, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn weigh(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(new): Body<NewWeights>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            taught(s, id, &user)?;
            let mut weights = BTreeMap::new();
            for CategoryWeight { category, weight } in new.categories {
                let Some(weight) = weight else { continue };
                if !(0.0..=MOST_WEIGHT).contains(&weight) {
                    return Err(Problem::bad(format!(
                        "the weight of “{category}”: expected 0 to {MOST_WEIGHT}, found {weight}"
                    )));
                }
                if category.chars().count() > LONGEST_CATEGORY {
                    return Err(Problem::bad(format!(
                        "category: expected at most {LONGEST_CATEGORY} letters"
                    )));
                }
                if weights.insert(category.clone(), weight).is_some() {
                    return Err(Problem::bad(format!("“{category}” is weighed twice")));
                }
            }
            Ok(s.store.weigh_categories(id, &weights)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The same as CSV: a line for each student and assignment.
#[utoipa::path(get, operation_id = "classes_book_csv", path = "/api/classes/{id}/book.csv", params(("id" = i32, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
async fn book_csv(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<File, Problem> {
    let text = state.work(move |s| csv_of(&book_of(s, id, &user)?));
    Ok(file(&format!("class-{id}-marks.csv"), CSV, text.await?))
}

fn csv_of(book: &Book) -> Result<String, Problem> {
    csv(|out| {
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
        Ok(())
    })
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

    /// By hand: bench work twice, practice once; what is in no category weighs 1.
    #[test]
    fn categories_weigh_as_the_class_says() {
        let marks = [
            ("bench", 80.0),
            ("bench", 60.0),
            ("quiz", 100.0),
            ("", 40.0),
        ];
        let none = BTreeMap::new();
        assert_eq!(weighed(marks.into_iter(), &none), Some(70.0));
        let twice = BTreeMap::from([("bench".to_owned(), 2.0)]);
        assert_eq!(weighed(marks.into_iter(), &twice), Some(70.0));
        let only = BTreeMap::from([
            ("bench".to_owned(), 3.0),
            ("quiz".to_owned(), 1.0),
            (String::new(), 0.0),
        ]);
        assert_eq!(weighed(marks.into_iter(), &only), Some(77.5));
        let nothing = BTreeMap::from([(String::new(), 0.0)]);
        assert_eq!(weighed([("", 40.0)].into_iter(), &nothing), None);
    }
}
