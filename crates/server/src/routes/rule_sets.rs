//! Rules of lessons under a name: everybody who makes lessons takes them, and who keeps them changes and forgets them.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_bench::instruments::Function;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use super::lessons::Rules;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, keep))
        .routes(routes!(forget))
}

/// What of a lesson can be used for another.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Reused {
    predictions: bool,
    functions: Vec<Function>,
    rules: Rules,
}

#[derive(Serialize, ToSchema)]
struct RuleSetView {
    id: i32,
    name: String,
    author: String,
    /// Whoever asks keeps it.
    own: bool,
    reused: Reused,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewRuleSet {
    name: String,
    reused: Reused,
}

#[derive(Serialize, ToSchema)]
struct KeptRules {
    id: i32,
}

/// Rules that were kept, by their names. One that this program cannot read is left aside.
#[utoipa::path(get, operation_id = "rule_sets_list", path = "/api/rule-sets", responses((status = 200, body = Vec<RuleSetView>)))]
async fn list(
    State(state): State<AppState>,
    Instructor(user): Instructor,
) -> Result<Json<Vec<RuleSetView>>, Problem> {
    let kept = state.work(|s| Ok(s.store.rule_sets()?)).await?;
    let view = |set: cimento_store::RuleSet| {
        Some(RuleSetView {
            id: set.id,
            name: set.name,
            author: set.author_name,
            own: set.author == user.id,
            reused: serde_json::from_str(&set.rules).ok()?,
        })
    };
    Ok(Json(kept.into_iter().filter_map(view).collect()))
}

/// Keep rules under a name; one's own of that name are replaced.
#[utoipa::path(post, operation_id = "rule_sets_keep", path = "/api/rule-sets", request_body = NewRuleSet, responses((status = 200, body = KeptRules), (status = 400, body = Problem)))]
async fn keep(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Body(new): Body<NewRuleSet>,
) -> Result<Json<KeptRules>, Problem> {
    if new.reused.functions.is_empty() {
        return Err(Problem::bad("choose at least one instrument"));
    }
    let text = serde_json::to_string(&new.reused).map_err(|_| Problem::internal())?;
    let kept = state.work(move |s| Ok(s.store.keep_rules(&new.name, user.id, &text)?));
    Ok(Json(KeptRules { id: kept.await? }))
}

/// Forget rules that one keeps; lessons that were made by them stay as they are.
#[utoipa::path(delete, operation_id = "rule_sets_forget", path = "/api/rule-sets/{id}", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn forget(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    let forgotten = state.work(move |s| Ok(s.store.forget_rules(id, user.id)?));
    forgotten.await?;
    Ok(StatusCode::NO_CONTENT)
}
