//! Groups of a class: some of its students under a name, to whom work is given together. For who teaches it.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_store::Group;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use crate::access::taught;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, keep))
        .routes(routes!(forget))
}

#[derive(Serialize, ToSchema)]
struct GroupView {
    id: i32,
    name: String,
    students: Vec<i32>,
}

impl From<Group> for GroupView {
    fn from(group: Group) -> Self {
        let Group { id, name, students } = group;
        Self { id, name, students }
    }
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewGroup {
    name: String,
    students: Vec<i32>,
}

#[derive(Serialize, ToSchema)]
struct KeptGroup {
    id: i32,
}

/// The groups of a class.
#[utoipa::path(get, operation_id = "groups_list", path = "/api/classes/{id}/groups", params(("id" = i32, Path)), responses((status = 200, body = Vec<GroupView>), (status = 404, body = Problem)))]
async fn list(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Vec<GroupView>>, Problem> {
    let found = state.work(move |s| {
        taught(s, id, &user)?;
        Ok(s.store.groups(id)?)
    });
    let found = found.await?.into_iter();
    Ok(Json(found.map(GroupView::from).collect()))
}

/// Keep some of a class as a group; the one of that name is replaced.
#[utoipa::path(post, operation_id = "groups_keep", path = "/api/classes/{id}/groups", params(("id" = i32, Path)), request_body = NewGroup, responses((status = 200, body = KeptGroup), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn keep(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(new): Body<NewGroup>,
) -> Result<Json<KeptGroup>, Problem> {
    let kept = state.work(move |s| {
        taught(s, id, &user)?;
        Ok(s.store.keep_group(id, &new.name, &new.students)?)
    });
    Ok(Json(KeptGroup { id: kept.await? }))
}

/// Forget a group; what it was given stays given.
#[utoipa::path(delete, operation_id = "groups_forget", path = "/api/classes/{id}/groups/{group}", params(("id" = i32, Path), ("group" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn forget(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path((id, group)): Path<(i32, i32)>,
) -> Result<StatusCode, Problem> {
    let forgotten = state.work(move |s| {
        taught(s, id, &user)?;
        Ok(s.store.forget_group(id, group)?)
    });
    forgotten.await?;
    Ok(StatusCode::NO_CONTENT)
}
