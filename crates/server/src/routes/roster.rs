//! The school's own records taken over: what it would change is told first.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::{DefaultBodyLimit, State};
use cimento_store::{Roster, RosterFinding, RosterPlan};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::clock::{now, today};
use crate::problem::Problem;
use crate::session::Administrator;
use crate::state::AppState;

/// Largest roster, in bytes: some twenty thousand people.
const MOST_BYTES: usize = 8_000_000;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(take))
        .layer(DefaultBodyLimit::max(MOST_BYTES))
}

/// Files of a roster.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct RosterFiles {
    /// Their texts by name: users.csv, classes.csv, enrollments.csv and what there is of manifest.csv, orgs.csv and
    /// academicSessions.csv (OneRoster 1.1).
    files: BTreeMap<String, String>,
    /// Nothing is changed; what would be is told.
    dry_run: bool,
}

/// What taking it over changes.
#[derive(Serialize, ToSchema)]
struct RosterView {
    changes: Vec<RosterChange>,
    /// What has no place here.
    left_aside: Vec<String>,
}

#[derive(Serialize, ToSchema)]
struct RosterChange {
    /// add, change, leave, come back, begin, end, join, or go.
    #[schema(example = "add")]
    what: &'static str,
    about: String,
}

/// Take the school's own records over, or tell what that would change.
#[utoipa::path(post, operation_id = "people_roster", path = "/api/people/roster", request_body = RosterFiles, responses((status = 200, body = RosterView), (status = 403, body = Problem), (status = 422, body = Problem)))]
async fn take(
    State(state): State<AppState>,
    Administrator(user): Administrator,
    Body(given): Body<RosterFiles>,
) -> Result<Json<RosterView>, Problem> {
    let view = state.work(move |s| {
        let roster = Roster::read(&given.files, &today()).map_err(refused)?;
        let plan: RosterPlan = if given.dry_run {
            s.store.would_change(&roster, now())?
        } else {
            let plan = s.store.take_over(&roster, now())?;
            let count = format!("{} changes", plan.changes.len());
            s.store
                .note(&user.name, "took a roster over", &count, now())?;
            plan
        };
        let change = |c: cimento_store::Change| RosterChange {
            what: c.what,
            about: c.about,
        };
        Ok(RosterView {
            changes: plan.changes.into_iter().map(change).collect(),
            left_aside: roster.left_aside,
        })
    });
    Ok(Json(view.await?))
}

fn refused(findings: Vec<RosterFinding>) -> Problem {
    let place = |f: &RosterFinding| match f.line {
        0 => f.file.clone(),
        line => format!("{}:{line}", f.file),
    };
    Problem::refused(findings.iter().map(|f| (place(f), f.message.clone())))
}
