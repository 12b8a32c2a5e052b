//! What the work of a class tells: of one lesson, what misled and what was not understood; of all, criterion by
//! criterion over the weeks.

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::lesson::Skill;
use cimento_diagnosis::marking::{ALL, Insight, MarkSheet, Worked, insight};
use cimento_model::circuit::Drawing;
use cimento_model::text::inert;
use cimento_store::{CriterionMean, MeanOf, Role, User, Whose};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Path;
use super::file::{CSV, File, csv, file};
use super::live::seen;
use crate::problem::Problem;
use crate::session::Staff;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(of_assignment))
        .routes(routes!(of_assignment_csv))
        .routes(routes!(of_class))
}

/// What the attempts at an assignment have in common.
#[derive(Serialize, ToSchema)]
struct InsightView {
    title: String,
    class: String,
    /// Attempts that were handed in, marked or not yet.
    handed_in: usize,
    /// Its machine, to show on it where was measured.
    drawing: Drawing,
    #[serde(flatten)]
    insight: Insight,
}

fn of(s: &AppState, id: i32, user: &User) -> Result<InsightView, Problem> {
    let assignment = seen(s, id, user)?;
    let lesson = s.lesson(assignment.lesson)?;
    let rows = s.store.attempts(Whose::In {
        assignment: id,
        asker: user.id,
    })?;
    let done = rows.iter().filter(|r| r.handed_in);
    let mut all = Vec::new();
    // Of other versions the places are others; of those that were dealt the machine is the same.
    for row in done.clone() {
        let own = s.lesson(row.lesson_id)?;
        if own.circuit.doc != lesson.circuit.doc {
            continue;
        }
        let Some(kept) = s.store.standing_sheet(row.id)? else {
            continue;
        };
        let sheet: MarkSheet = serde_json::from_str(&kept.sheet).map_err(|e| {
            tracing::error!("a kept mark sheet cannot be read: {e}");
            Problem::internal()
        })?;
        let steps = s.store.steps(row.id)?;
        all.push(Worked {
            lesson: own,
            steps,
            sheet,
        });
    }
    Ok(InsightView {
        title: assignment.lesson_title,
        class: assignment.class_name,
        handed_in: done.count(),
        drawing: s.diagrams.of(&lesson.circuit),
        insight: insight(&all),
    })
}

/// What the attempts at an assignment have in common.
#[utoipa::path(get, operation_id = "assignments_insight", path = "/api/assignments/{id}/insight", params(("id" = i32, Path)), responses((status = 200, body = InsightView), (status = 404, body = Problem)))]
async fn of_assignment(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<Json<InsightView>, Problem> {
    Ok(Json(state.work(move |s| of(s, id, &user)).await?))
}

/// The same as CSV: a line for each number, with what it is out of.
#[utoipa::path(get, operation_id = "assignments_insight_csv", path = "/api/assignments/{id}/insight.csv", params(("id" = i32, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
async fn of_assignment_csv(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<File, Problem> {
    let text = state.work(move |s| csv_of(&of(s, id, &user)?.insight));
    Ok(file(&format!("insight-{id}.csv"), CSV, text.await?))
}

fn csv_of(of: &Insight) -> Result<String, Problem> {
    csv(|out| {
        out.write_record(["about", "what", "value", "of", "times"])?;
        for (about, counted) in [
            ("misled", &of.misled),
            ("measured", &of.measured),
            ("slip", &of.slips),
        ] {
            for c in counted {
                let [n, all, times] = [c.attempts, of.attempts, c.times].map(|n| n.to_string());
                out.write_record([about, &inert(&c.what), &n, &all, &times])?;
            }
        }
        for (about, earned) in [("predicted", &of.predictions), ("line", &of.lines)] {
            for e in earned {
                let (share, n) = (format!("{:.3}", e.share), e.of.to_string());
                out.write_record([about, &inert(&e.what), &share, &n, ""])?;
            }
        }
        Ok(())
    })
}

/// What a class can do, by what is marked.
#[derive(Serialize, ToSchema)]
struct ClassInsight {
    class: String,
    criteria: Vec<CriterionView>,
    /// The same of the skills that lessons practise: of all the marks of these.
    skills: Vec<CriterionView>,
}

/// One criterion, or one skill, of a class.
#[derive(Serialize, ToSchema)]
struct CriterionView {
    criterion: String,
    title: String,
    /// Week by week, the earliest first; weeks without sheets are left out.
    weeks: Vec<WeekMean>,
    students: Vec<StudentMean>,
}

#[derive(Serialize, ToSchema)]
struct WeekMean {
    /// When the week began, in seconds since 1970.
    begins: i64,
    /// 0 to 1.
    share: f64,
    sheets: i64,
}

#[derive(Serialize, ToSchema)]
struct StudentMean {
    student: i32,
    display: String,
    share: f64,
    sheets: i64,
}

/// Means put together by what they are of, in the order of its first; `name` knows who is still in the class.
fn views(means: Vec<CriterionMean>, name: impl Fn(i32) -> Option<String>) -> Vec<CriterionView> {
    let mut out: Vec<CriterionView> = Vec::new();
    for mean in means {
        let at = match out.iter().position(|c| c.criterion == mean.criterion) {
            Some(at) => at,
            None => {
                out.push(CriterionView {
                    criterion: mean.criterion,
                    title: mean.title,
                    weeks: Vec::new(),
                    students: Vec::new(),
                });
                out.len() - 1
            }
        };
        let (share, sheets) = (mean.share, mean.sheets);
        match mean.of {
            MeanOf::Week(begins) => out[at].weeks.push(WeekMean {
                begins,
                share,
                sheets,
            }),
            // Who was taken out of the class is no longer its business.
            MeanOf::Student(student) => {
                out[at]
                    .students
                    .extend(name(student).map(|display| StudentMean {
                        student,
                        display,
                        share,
                        sheets,
                    }))
            }
        }
    }
    out
}

/// What a class can do, criterion by criterion: week by week, and student by student.
#[utoipa::path(get, operation_id = "classes_insight", path = "/api/classes/{id}/insight", params(("id" = i32, Path)), responses((status = 200, body = ClassInsight), (status = 404, body = Problem)))]
async fn of_class(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<Json<ClassInsight>, Problem> {
    let view = state.work(move |s| {
        let class = s.store.class(id, user.id)?;
        if !matches!(class.asker, Some(Role::Instructor | Role::Assistant)) {
            return Err(Problem::not_found(&format!("class {id} of yours")));
        }
        let members = s.store.members()?;
        let name = |person: i32| {
            let mut own = members.iter().filter(|m| m.class == id);
            own.find(|m| m.person == person).map(|m| m.display.clone())
        };
        let mut criteria = views(s.store.criteria(id)?, name);
        let mut skills = views(s.store.skills(id)?, name);
        let known = |c: &CriterionView| {
            let skill = serde_json::from_value::<Skill>(c.criterion.clone().into()).ok()?;
            Skill::all().position(|s| s == skill).map(|at| (at, skill))
        };
        // Those that others stand on first; of a later program none is known.
        skills.retain_mut(|c| {
            let found = known(c);
            if let Some((_, skill)) = found {
                skill.name().clone_into(&mut c.title);
            }
            found.is_some()
        });
        skills.sort_by_key(|c| known(c).map(|(at, _)| at));
        // In the order of the sheet.
        let place = |c: &CriterionView| ALL.iter().position(|a| a.name() == c.criterion);
        criteria.sort_by_key(place);
        Ok(ClassInsight {
            class: class.name,
            criteria,
            skills,
        })
    });
    Ok(Json(view.await?))
}
