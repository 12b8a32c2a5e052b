//! A class's marks as OneRoster 1.1 CSV, for a student information system: categories, line items and results.

use axum::extract::State;
use cimento_model::text::inert;
use cimento_store::{Sources, User};
use utoipa_axum::{router::OpenApiRouter, routes};

use super::book::{Book, BookCell, CellState, book_of};
use super::extract::Path;
use super::file::{CSV, File, csv, file};
use crate::clock::{date, now};
use crate::problem::Problem;
use crate::session::Staff;
use crate::state::AppState;

/// The files that there are.
const FILES: [&str; 3] = ["categories.csv", "lineItems.csv", "results.csv"];

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(results))
}

/// One file of a class's marks by OneRoster 1.1: categories.csv, lineItems.csv or results.csv.
#[utoipa::path(get, operation_id = "classes_results", path = "/api/classes/{id}/oneroster/{file}", params(("id" = i32, Path), ("file" = String, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
async fn results(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path((id, asked)): Path<(i32, String)>,
) -> Result<File, Problem> {
    let Some(name) = FILES.into_iter().find(|f| *f == asked) else {
        return Err(Problem::not_found(&format!(
            "a file {asked}: expected {}",
            FILES.join(", ")
        )));
    };
    let text = state.work(move |s| told(s, id, name, &user)).await?;
    Ok(file(name, CSV, text))
}

fn told(s: &AppState, id: i32, file: &str, user: &User) -> Result<String, Problem> {
    let book = book_of(s, id, user)?;
    let sources = s.store.sources(id)?;
    match file {
        "categories.csv" => categories(&book),
        "lineItems.csv" => line_items(id, &book, &sources),
        _ => scores(&book, &sources),
    }
}

/// A category's own name; what belongs to none is bench work.
fn category(named: &str) -> (String, &str) {
    let title = if named.is_empty() {
        "Bench work"
    } else {
        named
    };
    let id: String = title
        .chars()
        .map(|c| if c.is_alphanumeric() { c } else { '-' })
        .collect();
    (format!("cimento-category-{}", id.to_lowercase()), title)
}

fn categories(book: &Book) -> Result<String, Problem> {
    csv(|out| {
        out.write_record(["sourcedId", "status", "dateLastModified", "title"])?;
        let mut seen = Vec::new();
        for column in &book.columns {
            let (id, title) = category(&column.category);
            if !seen.contains(&id) {
                out.write_record([id.as_str(), "", "", &inert(title)])?;
                seen.push(id);
            }
        }
        Ok(())
    })
}

fn line_items(class: i32, book: &Book, sources: &Sources) -> Result<String, Problem> {
    csv(|out| {
        out.write_record([
            "sourcedId",
            "status",
            "dateLastModified",
            "title",
            "description",
            "assignDate",
            "dueDate",
            "classSourcedId",
            "categorySourcedId",
            "gradingPeriodSourcedId",
            "resultValueMin",
            "resultValueMax",
        ])?;
        let own = sources.class.clone();
        let own = own.unwrap_or_else(|| format!("cimento-class-{class}"));
        for column in &book.columns {
            let assigned = date(column.made_at);
            // Where nothing is due by a day, it is as soon as it is given.
            let due = column.due_at.map_or(assigned.clone(), date);
            out.write_record([
                &line_item(column.assignment),
                "",
                "",
                &inert(&column.title),
                "",
                &assigned,
                &due,
                &own,
                &category(&column.category).0,
                "",
                "0.0",
                "100.0",
            ])?;
        }
        Ok(())
    })
}

fn line_item(assignment: i32) -> String {
    format!("cimento-assignment-{assignment}")
}

fn scores(book: &Book, sources: &Sources) -> Result<String, Problem> {
    csv(|out| {
        out.write_record([
            "sourcedId",
            "status",
            "dateLastModified",
            "lineItemSourcedId",
            "studentSourcedId",
            "scoreStatus",
            "score",
            "scoreDate",
            "comment",
        ])?;
        for row in &book.rows {
            let student = sources.people.get(&row.student).cloned();
            let student = student.unwrap_or_else(|| format!("cimento-person-{}", row.student));
            for (column, cell) in book.columns.iter().zip(&row.cells) {
                let Some(cell) = cell else { continue };
                let score = cell.counts.map_or(String::new(), |n| format!("{n:.1}"));
                let on = date(cell.handed_in_at.unwrap_or_else(now));
                out.write_record([
                    format!("cimento-attempt-{}", cell.attempt).as_str(),
                    "",
                    "",
                    &line_item(column.assignment),
                    &student,
                    status(cell),
                    &score,
                    &on,
                    "",
                ])?;
            }
        }
        Ok(())
    })
}

/// How OneRoster says it: exempt, fully graded, not submitted, submitted.
fn status(cell: &BookCell) -> &'static str {
    match cell.state {
        CellState::Excused => "exempt",
        CellState::Marked => "fully graded",
        CellState::HandedIn => "submitted",
        CellState::NotBegun | CellState::AtWork | CellState::Missing => "not submitted",
    }
}
