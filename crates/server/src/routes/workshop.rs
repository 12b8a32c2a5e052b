//! The workshop: building and changing circuits, taking them in and out. For instructors only.

use axum::Json;
use axum::extract::State;
use cimento_bench::spice::spice_netlist;
use cimento_bench::{Bench, complaint};
use cimento_model::circuit::{
    CircuitDoc, Drawing, HarnessRun, Mend, Problem as Finding, Refused, read_wire_list,
    write_harness_sheet, write_wire_list,
};
use cimento_model::part::{ParamKind, ParamSpec, PartKind, Shelf};
use cimento_parts::{
    ALL, FIRST_PATH, STARTS, Start, build_circuit, path_line, read_circuit, say_path, start,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use super::file::{CSV, File, file};
use crate::clock::now;
use crate::diagrams::Diagrams;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(create))
        .routes(routes!(starts))
        .routes(routes!(document, change))
        .routes(routes!(versions))
        .routes(routes!(version))
        .routes(routes!(check))
        .routes(routes!(say))
        .routes(routes!(mend))
        .routes(routes!(wires))
        .routes(routes!(export))
        .routes(routes!(harness))
        .routes(routes!(kinds))
}

/// A new circuit: one to begin from, a copy of one, a document, a wire list put into a copy, or nothing yet.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewCircuit {
    #[serde(default)]
    title: Option<String>,
    #[serde(default)]
    copy_of: Option<i32>,
    /// The id of a circuit to begin from.
    #[serde(default)]
    start: Option<String>,
    /// A circuit document as text, as it was exported.
    #[serde(default)]
    text: Option<String>,
    /// A wire list as CSV, in place of the copy's own wires.
    #[serde(default)]
    wire_list: Option<String>,
}

#[derive(Serialize, ToSchema)]
struct Made {
    id: i32,
}

/// A small working circuit to begin from.
#[derive(Serialize, ToSchema)]
struct StartItem {
    id: &'static str,
    title: String,
    /// What there is to learn on it.
    about: &'static str,
}

/// What one begins with.
#[derive(Serialize, ToSchema)]
struct Starts {
    circuits: Vec<StartItem>,
    /// A path to say where there is nothing yet.
    first_path: &'static str,
}

/// The circuits to begin from, and a path for who begins from nothing.
#[utoipa::path(get, operation_id = "workshop_starts", path = "/api/circuits/starts", responses((status = 200, body = Starts)))]
async fn starts(_: Instructor) -> Json<Starts> {
    let item = |start: &Start| {
        Some(StartItem {
            id: start.id,
            title: start.document()?.title,
            about: start.about,
        })
    };
    Json(Starts {
        circuits: STARTS.iter().filter_map(item).collect(),
        first_path: FIRST_PATH,
    })
}

/// A circuit's document with the version it is at.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Versioned {
    document: CircuitDoc,
    version: i32,
}

/// A version of a circuit that was kept.
#[derive(Serialize, ToSchema)]
struct KeptVersion {
    version: i32,
    /// When it was last changed, in seconds since 1970.
    changed_at: i64,
}

/// The versions of a circuit that were kept, newest first: as it was before each pause in the work.
#[utoipa::path(get, operation_id = "workshop_versions", path = "/api/circuits/{id}/versions", params(("id" = i32, Path)), responses((status = 200, body = Vec<KeptVersion>)))]
async fn versions(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Vec<KeptVersion>>, Problem> {
    let kept = state.work(move |s| Ok(s.store.kept_versions(id)?)).await?;
    let item = |(version, changed_at)| KeptVersion {
        version,
        changed_at,
    };
    Ok(Json(kept.into_iter().map(item).collect()))
}

/// A circuit as it was at a version that was kept.
#[utoipa::path(get, operation_id = "workshop_version", path = "/api/circuits/{id}/versions/{version}", params(("id" = i32, Path), ("version" = i32, Path)), responses((status = 200, body = CircuitDoc), (status = 404, body = Problem)))]
async fn version(
    State(state): State<AppState>,
    _: Instructor,
    Path((id, version)): Path<(i32, i32)>,
) -> Result<Json<CircuitDoc>, Problem> {
    let doc = state
        .work(move |s| Ok(s.store.kept_version(id, version)?))
        .await?;
    Ok(Json(doc))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Unchecked {
    document: CircuitDoc,
    /// The shape of the drawing that it was made from: its diagram keeps that one's order.
    #[serde(default)]
    before: Option<String>,
}

/// What there is to say of a circuit that is being built.
#[derive(Serialize, ToSchema)]
struct Checked {
    /// Why it is no working circuit yet.
    refused: Vec<Finding>,
    warnings: Vec<Finding>,
    /// Absent while it is refused.
    drawing: Option<Drawing>,
    /// What the healthy machine does when it is tried.
    healthy: Option<String>,
    /// Places where a fault can sit.
    places: usize,
    /// Its current paths, each in the line that says it.
    paths: Vec<String>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Said {
    document: CircuitDoc,
    line: String,
}

/// A kind of part on the shelf.
#[derive(Serialize, ToSchema)]
struct KindItem {
    kind: &'static str,
    title: &'static str,
    /// What the ids of such parts begin with.
    letters: &'static str,
    /// The heading of the shelf that it lies on; kinds come in the order of the shelves.
    shelf: &'static str,
    terminals: Vec<&'static str>,
    params: Vec<ParamItem>,
}

#[derive(Serialize, ToSchema)]
struct ParamItem {
    name: &'static str,
    about: &'static str,
    /// For numbers.
    unit: Option<&'static str>,
    default: Option<f64>,
    /// The numbers that are taken, from the least to the most.
    range: Option<[f64; 2]>,
}

/// Every kind of part.
#[utoipa::path(get, operation_id = "workshop_kinds", path = "/api/kinds", responses((status = 200, body = Vec<KindItem>)))]
async fn kinds(_: Instructor) -> Json<Vec<KindItem>> {
    let param = |p: &ParamSpec| {
        let (unit, default, range) = match p.kind {
            ParamKind::Number {
                unit,
                default,
                least,
                most,
            } => (Some(unit), Some(default), Some([least, most])),
            _ => (None, None, None),
        };
        ParamItem {
            name: p.name,
            about: p.about,
            unit,
            default,
            range,
        }
    };
    let item = |k: &&dyn PartKind| KindItem {
        kind: k.kind(),
        title: k.title(),
        letters: k.letters(),
        shelf: k.shelf().title(),
        terminals: k.terminals().iter().map(|t| t.name).collect(),
        params: k.params().iter().map(param).collect(),
    };
    let mut all: Vec<_> = ALL.iter().collect();
    all.sort_by_key(|k| Shelf::ALL.iter().position(|s| *s == k.shelf()));
    Json(all.into_iter().map(item).collect())
}

/// Make a circuit. What is damaged is refused whole, with every mistake.
#[utoipa::path(post, operation_id = "workshop_create", path = "/api/circuits", request_body = NewCircuit, responses((status = 200, body = Made), (status = 422, body = Problem)))]
async fn create(
    State(state): State<AppState>,
    _: Instructor,
    Body(new): Body<NewCircuit>,
) -> Result<Json<Made>, Problem> {
    let id = state
        .work(move |s| {
            let begun = new.start.as_deref().map(|id| {
                let known = start(id).and_then(Start::document);
                known.ok_or_else(|| {
                    let ids: Vec<&str> = STARTS.iter().map(|s| s.id).collect();
                    let known = ids.join(", ");
                    Problem::bad(format!(
                        "“{id}” is no circuit to begin from: expected {known}"
                    ))
                })
            });
            let mut doc = match (&new.text, new.copy_of, begun) {
                (Some(text), ..) => read_circuit(text)?.doc.clone(),
                (None, Some(id), _) => s.store.circuit(id)?.document,
                (None, None, Some(begun)) => begun?,
                (None, None, None) => CircuitDoc::new("New circuit"),
            };
            if let Some(list) = &new.wire_list {
                doc.wires = read_wire_list(list)?;
                doc.layout.clear();
                build_circuit(doc.clone())?;
            }
            if let Some(title) = new
                .title
                .as_deref()
                .map(str::trim)
                .filter(|t| !t.is_empty())
            {
                title.clone_into(&mut doc.title);
            }
            Ok(s.store.add_circuit(&doc, now())?)
        })
        .await?;
    Ok(Json(Made { id }))
}

/// The document of a circuit.
#[utoipa::path(get, operation_id = "workshop_document", path = "/api/circuits/{id}/document", params(("id" = i32, Path)), responses((status = 200, body = Versioned), (status = 404, body = Problem)))]
async fn document(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Versioned>, Problem> {
    let row = state.work(move |s| Ok(s.store.circuit(id)?)).await?;
    Ok(Json(Versioned {
        document: row.document,
        version: row.version,
    }))
}

/// Store a changed circuit, finished or not. Lessons that were given out keep the circuit they hold.
#[utoipa::path(put, operation_id = "workshop_change", path = "/api/circuits/{id}/document", params(("id" = i32, Path)), request_body = Versioned, responses((status = 200, body = Versioned), (status = 409, body = Problem)))]
async fn change(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(new): Body<Versioned>,
) -> Result<Json<Versioned>, Problem> {
    let stored = state
        .work(move |s| {
            let version = s
                .store
                .change_circuit(id, &new.document, new.version, now())?;
            Ok(Versioned {
                document: new.document,
                version,
            })
        })
        .await?;
    Ok(Json(stored))
}

/// What there is to say of a circuit, without storing it.
#[utoipa::path(post, operation_id = "workshop_check", path = "/api/circuits/check", request_body = Unchecked, responses((status = 200, body = Checked)))]
async fn check(
    State(state): State<AppState>,
    _: Instructor,
    Body(asked): Body<Unchecked>,
) -> Result<Json<Checked>, Problem> {
    let checked = state.work(move |s| checked(&s.diagrams, asked)).await?;
    Ok(Json(checked))
}

fn checked(diagrams: &Diagrams, asked: Unchecked) -> Result<Checked, Problem> {
    let circuit = match build_circuit(asked.document) {
        Ok(circuit) => circuit,
        Err(Refused(refused)) => {
            return Ok(Checked {
                refused,
                warnings: Vec::new(),
                drawing: None,
                healthy: None,
                places: 0,
                paths: Vec::new(),
            });
        }
    };
    let mut bench = Bench::new(&circuit, &[])?;
    Ok(Checked {
        refused: Vec::new(),
        warnings: circuit.warnings.clone(),
        healthy: Some(complaint(&mut bench)?.text),
        places: circuit.places().count(),
        paths: circuit
            .paths()
            .iter()
            .map(|p| path_line(&circuit, p))
            .collect(),
        drawing: Some(diagrams.of_draft(&circuit, asked.before.as_deref())),
    })
}

/// Put a path that is said in one line into a circuit, without storing it.
#[utoipa::path(post, operation_id = "workshop_say", path = "/api/circuits/say", request_body = Said, responses((status = 200, body = CircuitDoc), (status = 400, body = Problem)))]
async fn say(_: Instructor, Body(said): Body<Said>) -> Result<Json<CircuitDoc>, Problem> {
    let said = say_path(&said.document, &said.line);
    Ok(Json(said.map_err(|e| Problem::bad(e.to_string()))?))
}

/// A change that was offered with a finding.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Mended {
    document: CircuitDoc,
    mend: Mend,
}

/// Do what was offered with a finding, without storing it.
#[utoipa::path(post, operation_id = "workshop_mend", path = "/api/circuits/mend", request_body = Mended, responses((status = 200, body = CircuitDoc)))]
async fn mend(_: Instructor, Body(mut mended): Body<Mended>) -> Json<CircuitDoc> {
    mended.mend.apply(&mut mended.document);
    Json(mended.document)
}

/// A wire list that takes the place of a circuit's wires.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Listed {
    document: CircuitDoc,
    /// CSV, a row a wire.
    wire_list: String,
}

/// Put a wire list in the place of a circuit's wires, without storing it. A list with a mistake is refused
/// whole.
#[utoipa::path(post, operation_id = "workshop_wires", path = "/api/circuits/wires", request_body = Listed, responses((status = 200, body = CircuitDoc), (status = 422, body = Problem)))]
async fn wires(_: Instructor, Body(listed): Body<Listed>) -> Result<Json<CircuitDoc>, Problem> {
    let wires = read_wire_list(&listed.wire_list)?;
    Ok(Json(CircuitDoc {
        wires,
        ..listed.document
    }))
}

/// The check sheet of a circuit's harnesses: what an ohmmeter shows from end to end.
#[utoipa::path(get, operation_id = "workshop_harness", path = "/api/circuits/{id}/harness", params(("id" = i32, Path)), responses((status = 200, body = Vec<HarnessRun>)))]
async fn harness(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Vec<HarnessRun>>, Problem> {
    let runs = state
        .work(move |s| Ok(build_circuit(s.store.circuit(id)?.document)?.harness_runs()))
        .await?;
    Ok(Json(runs))
}

/// A circuit as a file: `json`, `csv` (its wire list), `harness.csv` (its check sheet) or `cir` (SPICE, at
/// rest).
#[utoipa::path(get, operation_id = "workshop_export", path = "/api/circuits/{id}/export/{format}", params(("id" = i32, Path), ("format" = String, Path)), responses((status = 200, body = String, content_type = "text/plain"), (status = 404, body = Problem)))]
async fn export(
    State(state): State<AppState>,
    _: Instructor,
    Path((id, format)): Path<(i32, String)>,
) -> Result<File, Problem> {
    let (text, kind, format) = state
        .work(move |s| {
            let doc = s.store.circuit(id)?.document;
            Ok(match format.as_str() {
                "json" => {
                    let text = serde_json::to_string_pretty(&doc);
                    (
                        text.map_err(|_| Problem::internal())?,
                        "application/json",
                        format,
                    )
                }
                "csv" => (write_wire_list(&doc.wires), CSV, format),
                "harness.csv" => {
                    let circuit = build_circuit(doc)?;
                    let sheet = write_harness_sheet(&circuit.harness_runs());
                    (sheet, CSV, format)
                }
                "cir" => {
                    let circuit = build_circuit(doc)?;
                    let bench = Bench::new(&circuit, &[])?;
                    (spice_netlist(&bench)?, "text/plain; charset=utf-8", format)
                }
                other => {
                    return Err(Problem::not_found(&format!(
                        "export as {other}: expected json, csv, harness.csv or cir"
                    )));
                }
            })
        })
        .await?;
    Ok(file(&format!("circuit-{id}.{format}"), kind, text))
}
