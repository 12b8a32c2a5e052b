//! Sheets of the binder that a machine comes with, once they were opened; and what a binder of a circuit can hold.

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::binder::{BinderDoc, BinderSheet};
use cimento_model::circuit::Drawing;
use cimento_parts::build_circuit;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::attempts::of;
use super::extract::Path;
use super::working::stand;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(open))
        .routes(routes!(can_hold))
}

/// A sheet that lies open: tables, or a diagram.
#[derive(Serialize, ToSchema)]
struct OpenSheetView {
    #[serde(flatten)]
    sheet: BinderSheet,
    #[serde(skip_serializing_if = "Option::is_none")]
    drawing: Option<Drawing>,
}

/// A sheet of the binder, which the student has opened.
#[utoipa::path(get, operation_id = "attempts_sheet_of_binder", path = "/api/attempts/{id}/binder/{sheet}", params(("id" = i32, Path), ("sheet" = String, Path)), responses((status = 200, body = OpenSheetView), (status = 404, body = Problem)))]
async fn open(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path((id, sheet)): Path<(i32, String)>,
) -> Result<Json<OpenSheetView>, Problem> {
    let found = state.work(move |s| {
        let none = || Problem::not_found("such an open sheet");
        let (lesson, opened) = s.benches.at(id, |bench| {
            let standing = of(s.store.standing(id, "", user.id)?, &user)?;
            let session = stand(s, bench, &standing)?;
            let opened = session.opened().contains(&sheet);
            Ok::<_, Problem>((session.lesson.clone(), opened))
        })?;
        let binder = lesson.binder.as_ref().filter(|_| opened);
        let binder = binder.ok_or_else(none)?;
        if let Some(circuit) = binder.diagram(&sheet) {
            let drawing = s.diagrams.of(circuit);
            return Ok(OpenSheetView {
                sheet: BinderSheet {
                    title: drawing.title.clone(),
                    about: String::new(),
                    tables: Vec::new(),
                    looms: Vec::new(),
                },
                drawing: Some(drawing),
            });
        }
        let sheet = binder.tables(&sheet)?.ok_or_else(none)?;
        Ok(OpenSheetView {
            sheet,
            drawing: None,
        })
    });
    Ok(Json(found.await?))
}

/// What a binder of a circuit can hold.
#[derive(Serialize, ToSchema)]
struct BinderChoices {
    /// Connectors that can be shown as another variant has them.
    variants: Vec<String>,
}

/// What a binder of a circuit can hold.
#[utoipa::path(get, operation_id = "circuits_binder", path = "/api/circuits/{id}/binder", params(("id" = i32, Path)), responses((status = 200, body = BinderChoices), (status = 404, body = Problem)))]
async fn can_hold(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<BinderChoices>, Problem> {
    let found = state.work(move |s| {
        let circuit = build_circuit(s.store.circuit(id)?.document)?;
        Ok(BinderChoices {
            variants: BinderDoc::variants(&circuit),
        })
    });
    Ok(Json(found.await?))
}
