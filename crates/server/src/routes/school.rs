//! The school itself: opened once, named, and who did what to whom in it.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_diagnosis::marking::{Grade, Scale};
use cimento_store::{AuditLine, NewPerson, Role};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{Administrator, SignedIn};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(one, open, rename))
        .routes(routes!(audit))
        .routes(routes!(scale, set_scale))
}

/// The school, as everybody may know it.
#[derive(Serialize, ToSchema)]
struct SchoolView {
    /// Empty until it is open.
    name: String,
    /// Nobody is in it yet: it can be opened with the code that the server printed when it started.
    to_open: bool,
}

/// A school to be opened, with who looks after it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewSchool {
    /// What the server printed when it started.
    code: String,
    school: String,
    /// The name to sign in with.
    name: String,
    /// The name that others see.
    display: String,
    password: String,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SchoolName {
    name: String,
}

/// Something that was done to somebody.
#[derive(Serialize, ToSchema)]
struct AuditView {
    at: i64,
    /// Who did it, by the name they sign in with.
    actor: String,
    act: String,
    whom: String,
}

/// The name of the school, and whether it is to be opened.
#[utoipa::path(get, operation_id = "school_one", path = "/api/school", responses((status = 200, body = SchoolView)))]
async fn one(State(state): State<AppState>) -> Result<Json<SchoolView>, Problem> {
    let view = state.work(|s| {
        Ok(SchoolView {
            name: s.store.school()?.unwrap_or_default(),
            to_open: s.opening.is_some() && s.store.is_empty()?,
        })
    });
    Ok(Json(view.await?))
}

/// Open a school with its first administrator, who is an instructor too.
#[utoipa::path(post, operation_id = "school_open", path = "/api/school", request_body = NewSchool, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn open(
    State(state): State<AppState>,
    Body(new): Body<NewSchool>,
) -> Result<StatusCode, Problem> {
    let place = state.passwords.enter().await?;
    state
        .work(move |s| {
            if !s.store.is_empty()? {
                return Err(Problem::forbidden("this school is open: sign in"));
            }
            let right = s
                .opening
                .as_deref()
                .is_some_and(|code| code == new.code.trim());
            if !right {
                return Err(Problem::forbidden(
                    "the code is another one: the server prints it when it starts",
                ));
            }
            let first = NewPerson {
                name: new.name,
                display: new.display,
                roles: [Role::Administrator, Role::Instructor]
                    .into_iter()
                    .collect(),
                password: new.password,
            };
            s.store.open_school(&new.school, &first, now())?;
            Ok(())
        })
        .await?;
    drop(place);
    Ok(StatusCode::NO_CONTENT)
}

/// Give the school another name.
#[utoipa::path(put, operation_id = "school_rename", path = "/api/school", request_body = SchoolName, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn rename(
    State(state): State<AppState>,
    Administrator(user): Administrator,
    Body(given): Body<SchoolName>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            s.store.rename_school(&given.name)?;
            let named = given.name.trim();
            Ok(s.store.note(&user.name, "named the school", named, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// How the school says marks, and what one may begin from.
#[derive(Serialize, ToSchema)]
struct ScaleView {
    scale: Scale,
    usual: Vec<UsualScale>,
}

#[derive(Serialize, ToSchema)]
struct UsualScale {
    name: &'static str,
    grades: Vec<Grade>,
}

/// How the school says marks: its rounding and its grades.
#[utoipa::path(get, operation_id = "school_scale", path = "/api/school/scale", responses((status = 200, body = ScaleView)))]
async fn scale(State(state): State<AppState>, _: SignedIn) -> Result<Json<ScaleView>, Problem> {
    let usual = |(name, grades)| UsualScale { name, grades };
    Ok(Json(ScaleView {
        scale: state.work(|s| Ok(s.store.scale()?)).await?,
        usual: Scale::usual().into_iter().map(usual).collect(),
    }))
}

/// Say marks another way from now on. No mark changes by it, only how it is rounded and called.
#[utoipa::path(put, operation_id = "school_set_scale", path = "/api/school/scale", request_body = Scale, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn set_scale(
    State(state): State<AppState>,
    Administrator(user): Administrator,
    Body(scale): Body<Scale>,
) -> Result<StatusCode, Problem> {
    scale.check().map_err(Problem::bad)?;
    state
        .work(move |s| {
            s.store.set_scale(&scale)?;
            let grades: Vec<&str> = scale.grades.iter().map(|g| g.name.as_str()).collect();
            let said = match grades.is_empty() {
                true => "points".to_owned(),
                false => grades.join(", "),
            };
            Ok(s.store
                .note(&user.name, "set the scale of marks to", &said, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Who did what to whom, the latest first.
#[utoipa::path(get, operation_id = "school_audit", path = "/api/audit", responses((status = 200, body = Vec<AuditView>), (status = 403, body = Problem)))]
async fn audit(
    State(state): State<AppState>,
    _: Administrator,
) -> Result<Json<Vec<AuditView>>, Problem> {
    let lines = state.work(|s| Ok(s.store.audit()?)).await?;
    let view = |line: AuditLine| AuditView {
        at: line.at,
        actor: line.actor,
        act: line.act,
        whom: line.whom,
    };
    Ok(Json(lines.into_iter().map(view).collect()))
}
