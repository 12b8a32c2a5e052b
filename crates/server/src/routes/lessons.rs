//! Lessons and to whom they are given. For instructors only.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_bench::instruments::Function;
use cimento_diagnosis::ENGINE;
use cimento_diagnosis::binder::BinderDoc;
use cimento_diagnosis::craft::Craft;
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::lesson::Weights;
use cimento_diagnosis::lesson::{CustomerQuestion, Prices, Told};
use cimento_diagnosis::lesson::{
    Intro, Job, Lesson, LessonDoc, Means, Method, Papers, Purpose, School, Skill,
    Task as LessonTask, all_functions,
};
use cimento_model::circuit::CircuitDoc;
use cimento_model::faults::FaultDoc;
use cimento_store::{AttemptRow, Whose};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use super::marking::{Perhaps, Waiting};
use crate::clock::now;
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::prospect::Prospect;
use crate::reasoner::Task;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(one, change))
        .routes(routes!(copy))
        .routes(routes!(file))
        .routes(routes!(try_oneself))
        .routes(routes!(usual))
        .routes(routes!(prospect))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct NewLesson {
    pub(super) title: String,
    /// The complaint in the customer's words.
    pub(super) complaint: String,
    pub(super) circuit: i32,
    /// The version of the circuit that it is about; the present one when absent.
    #[serde(default)]
    pub(super) version: Option<i32>,
    pub(super) faults: Vec<FaultDoc>,
    #[serde(default)]
    pub(super) purpose: Purpose,
    #[serde(default)]
    pub(super) job: Job,
    /// What the students are asked for.
    #[serde(default)]
    pub(super) task: LessonTask,
    pub(super) predictions: bool,
    /// What the students may measure with; everything when absent.
    #[serde(default)]
    pub(super) functions: Option<Vec<Function>>,
    #[serde(default)]
    pub(super) rules: Rules,
    /// Skills that it practises, beside those that its plan shows.
    #[serde(default)]
    pub(super) skills: Vec<Skill>,
    /// What the customer and the workshop's book say.
    #[serde(default)]
    pub(super) told: Told,
    /// The machine's papers come as a binder.
    #[serde(default)]
    pub(super) binder: Option<NewBinder>,
}

/// A binder of circuits of the school.
#[derive(Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct NewBinder {
    /// Other circuits of the machine.
    #[serde(default)]
    others: Vec<i32>,
    /// A connector that its sheet shows as another variant has it.
    #[serde(default)]
    variant: Option<String>,
}

impl NewBinder {
    fn document(&self, s: &AppState) -> Result<BinderDoc, Problem> {
        let doc = |id: &i32| Ok::<_, Problem>(s.store.circuit(*id)?.document);
        Ok(BinderDoc {
            others: self.others.iter().map(doc).collect::<Result<_, _>>()?,
            variant: self.variant.clone(),
        })
    }
}

/// The circuit of a lesson at the version asked for: the one in hand, or one that was kept.
pub(super) fn circuit_of(
    s: &AppState,
    id: i32,
    version: Option<i32>,
) -> Result<CircuitDoc, Problem> {
    let row = s.store.circuit(id)?;
    match version {
        Some(version) if version != row.version => Ok(s.store.kept_version(id, version)?),
        _ => Ok(row.document),
    }
}

/// What a lesson allows, shows and counts, where it is not as usual.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub(super) struct Rules {
    scope: bool,
    forbidden: Vec<Means>,
    papers: Papers,
    method: Method,
    /// Minutes by the clock from the first step on.
    limit_minutes: Option<f64>,
    limits: Limits,
    weights: Weights,
    /// It counts how a repair is made, where a fault is looked for.
    craft: Option<Craft>,
    /// What minutes and parts cost the customer.
    prices: Option<Prices>,
    /// Plugs that look alike are put back crossed where they were apart together without a label.
    look_alikes: bool,
}

impl Default for Rules {
    fn default() -> Self {
        Self {
            scope: true,
            forbidden: Vec::new(),
            papers: Papers::default(),
            method: Method::default(),
            limit_minutes: None,
            limits: Limits::default(),
            weights: Weights::default(),
            craft: None,
            prices: None,
            look_alikes: false,
        }
    }
}

/// What a lesson may forbid, and its rules as they usually are.
#[derive(Serialize, ToSchema)]
struct Usual {
    means: Vec<NamedMeans>,
    /// Where schools of practice differ: at most one of each pair is asked for.
    schools: Vec<SchoolPair>,
    rules: Rules,
    /// What a repair has to stand and what things cost, where nothing else is said.
    craft: Craft,
    prices: Prices,
    /// What a customer may be asked.
    questions: Vec<NamedQuestion>,
}

/// A question to the customer with its words.
#[derive(Clone, Serialize, ToSchema)]
pub(super) struct NamedQuestion {
    question: CustomerQuestion,
    text: &'static str,
}

impl NamedQuestion {
    pub(super) fn all() -> Vec<Self> {
        let named = |question: CustomerQuestion| Self {
            question,
            text: question.text(),
        };
        CustomerQuestion::ALL.map(named).to_vec()
    }
}

/// Two schools that exclude each other.
#[derive(Clone, Serialize, ToSchema)]
struct SchoolPair {
    about: &'static str,
    schools: [NamedSchool; 2],
}

/// A school with its words.
#[derive(Clone, Serialize, ToSchema)]
struct NamedSchool {
    school: School,
    text: &'static str,
}

/// A kind of act with its words.
#[derive(Clone, Serialize, ToSchema)]
struct NamedMeans {
    means: Means,
    text: &'static str,
}

/// What a lesson can forbid, and its rules as they usually are.
#[utoipa::path(get, operation_id = "lessons_usual", path = "/api/lessons/usual", responses((status = 200, body = Usual)))]
async fn usual(_: Instructor) -> Json<Usual> {
    let named = |means: Means| NamedMeans {
        means,
        text: means.text(),
    };
    let school = |school: School| NamedSchool {
        school,
        text: school.text(),
    };
    let pair = |(about, both): (&'static str, [School; 2])| SchoolPair {
        about,
        schools: both.map(school),
    };
    Json(Usual {
        means: Means::ALL.map(named).to_vec(),
        schools: School::PAIRS.map(pair).to_vec(),
        rules: Rules::default(),
        craft: Craft::default(),
        prices: Prices::default(),
        questions: NamedQuestion::all(),
    })
}

#[derive(Serialize, ToSchema)]
struct LessonItem {
    id: i32,
    title: String,
    purpose: Purpose,
    job: Job,
    /// A fault is looked for: how hard it is can be worked out.
    seeks_fault: bool,
    /// What else is asked for, in a sentence; empty where a fault is looked for.
    asks: &'static str,
    /// Its faults in words; empty on a bench for trying the tools.
    fault: String,
    circuit: String,
    /// What it practises, as it says itself.
    skills: Vec<&'static str>,
    folder: String,
    version: i32,
    /// Attempts of it that were begun with an earlier version, and keep that.
    on_earlier: usize,
    /// It was put away.
    put_away: bool,
    created_at: i64,
    /// What it can show, where that was worked out: a list works nothing out.
    prospect: Option<Prospect>,
    attempts: Vec<AttemptItem>,
}

/// An attempt as an instructor sees it in a list.
#[derive(Serialize, ToSchema)]
struct AttemptItem {
    id: i32,
    student: String,
    steps: usize,
    handed_in: bool,
    /// The class in which it was given; empty for one's own trial.
    class: String,
    no: usize,
}

#[derive(Serialize, ToSchema)]
struct Created {
    id: i32,
}

fn item(row: &AttemptRow) -> AttemptItem {
    AttemptItem {
        id: row.id,
        student: row.student.clone(),
        steps: row.steps,
        handed_in: row.handed_in,
        class: row
            .given
            .as_ref()
            .map(|g| g.class_name.clone())
            .unwrap_or_default(),
        no: row.no,
    }
}

/// All lessons, with their attempts in one's own classes.
#[utoipa::path(get, operation_id = "lessons_list", path = "/api/lessons", responses((status = 200, body = Vec<LessonItem>)))]
async fn list(
    State(state): State<AppState>,
    Instructor(user): Instructor,
) -> Result<Json<Vec<LessonItem>>, Problem> {
    let items = state
        .work(move |s| {
            let attempts = s.store.attempts(Whose::SeenBy(user.id))?;
            let mut items: Vec<LessonItem> = Vec::new();
            let mut family = None;
            for line in s.store.lessons()? {
                let own = attempts.iter().filter(|a| a.lesson_id == line.id);
                // The latest version of each comes first.
                if family == Some(line.family) {
                    if let Some(latest) = items.last_mut() {
                        let earlier: Vec<AttemptItem> = own.map(item).collect();
                        latest.on_earlier += earlier.len();
                        latest.attempts.extend(earlier);
                    }
                    continue;
                }
                family = Some(line.family);
                let doc = s.store.lesson(line.id)?.document;
                items.push(LessonItem {
                    id: line.id,
                    title: line.title,
                    purpose: doc.purpose,
                    job: doc.job,
                    seeks_fault: doc.seeks_fault(),
                    asks: doc.task.about(),
                    circuit: doc.circuit.title.clone(),
                    skills: doc.skills.iter().map(|s| s.name()).collect(),
                    fault: doc.fault_in_words()?,
                    folder: line.folder,
                    version: line.version,
                    on_earlier: 0,
                    put_away: line.retired_at.is_some(),
                    created_at: line.created_at,
                    prospect: kept(s, line.id)?,
                    attempts: own.map(item).collect(),
                });
            }
            Ok(items)
        })
        .await?;
    Ok(Json(items))
}

/// Save a circuit with its faults as a lesson.
#[utoipa::path(post, operation_id = "lessons_create", path = "/api/lessons", request_body = NewLesson, responses((status = 200, body = Created), (status = 422, body = Problem)))]
async fn create(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Body(new): Body<NewLesson>,
) -> Result<Json<Created>, Problem> {
    let id = state
        .work(move |s| {
            let circuit = circuit_of(s, new.circuit, new.version)?;
            let doc = document(s, &new, circuit, new.faults.clone())?;
            let lesson = Lesson::new(doc.clone())?;
            let id = s.store.add_lesson(&doc, author.id, now())?;
            s.think_ahead(id, &lesson);
            Ok(id)
        })
        .await?;
    Ok(Json(Created { id }))
}

/// What can be changed of a lesson: all but its machine and its fault.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct LessonTerms {
    title: String,
    /// The complaint in the customer's words.
    complaint: String,
    purpose: Purpose,
    #[serde(default)]
    job: Job,
    /// What the students are asked for.
    #[serde(default)]
    task: LessonTask,
    predictions: bool,
    functions: Vec<Function>,
    rules: Rules,
    /// Skills that it practises, beside those that its plan shows.
    #[serde(default)]
    skills: Vec<Skill>,
    /// What the students read before they begin.
    #[serde(default)]
    intro: Option<Intro>,
    /// What the customer and the workshop's book say.
    #[serde(default)]
    told: Told,
}

/// A lesson's terms, and where it is kept.
#[derive(Serialize, ToSchema)]
struct LessonView {
    id: i32,
    version: i32,
    folder: String,
    put_away: bool,
    terms: LessonTerms,
}

impl LessonTerms {
    fn of(doc: LessonDoc) -> Self {
        Self {
            title: doc.title,
            complaint: doc.complaint,
            purpose: doc.purpose,
            job: doc.job,
            task: doc.task,
            predictions: doc.predictions,
            functions: doc.functions,
            skills: doc.skills,
            intro: doc.intro,
            told: doc.told,
            rules: Rules {
                scope: doc.scope,
                forbidden: doc.forbidden,
                papers: doc.papers,
                method: doc.method,
                limit_minutes: doc.limit_minutes,
                limits: doc.limits,
                weights: doc.weights,
                craft: doc.craft,
                prices: doc.prices,
                look_alikes: doc.look_alikes,
            },
        }
    }

    /// A lesson with these terms in the place of its own.
    fn on(self, doc: LessonDoc) -> LessonDoc {
        let rules = self.rules;
        let seeks = self.purpose != Purpose::Tools && self.task.is_diagnosis();
        LessonDoc {
            title: self.title.trim().to_owned(),
            complaint: self.complaint.trim().to_owned(),
            purpose: self.purpose,
            job: self.job,
            task: self.task,
            predictions: self.predictions,
            functions: self.functions,
            skills: self.skills,
            intro: self.intro,
            told: self.told,
            scope: rules.scope,
            forbidden: rules.forbidden,
            papers: rules.papers,
            method: rules.method,
            limit_minutes: rules.limit_minutes,
            limits: rules.limits,
            weights: rules.weights,
            craft: rules.craft.filter(|_| seeks),
            prices: rules.prices,
            look_alikes: rules.look_alikes,
            ..doc
        }
    }
}

/// Where a lesson is kept.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Filed {
    folder: String,
    put_away: bool,
}

/// What can be changed of a lesson.
#[utoipa::path(get, operation_id = "lessons_one", path = "/api/lessons/{id}", params(("id" = i32, Path)), responses((status = 200, body = LessonView), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<LessonView>, Problem> {
    let view = state.work(move |s| {
        let line = s.store.lesson_line(id)?;
        Ok(LessonView {
            id,
            version: line.version,
            folder: line.folder,
            put_away: line.retired_at.is_some(),
            terms: LessonTerms::of(s.store.lesson(id)?.document),
        })
    });
    Ok(Json(view.await?))
}

/// Change a lesson: another version of it. Work that was begun keeps the one that it began with; all else moves on.
#[utoipa::path(put, operation_id = "lessons_change", path = "/api/lessons/{id}", params(("id" = i32, Path)), request_body = LessonTerms, responses((status = 200, body = Created), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
async fn change(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Path(id): Path<i32>,
    Body(terms): Body<LessonTerms>,
) -> Result<Json<Created>, Problem> {
    let id = state.work(move |s| {
        let doc = terms.on(s.store.lesson(id)?.document);
        let lesson = Lesson::new(doc.clone())?;
        let id = s.store.change_lesson(id, &doc, author.id, now())?;
        s.think_ahead(id, &lesson);
        Ok(id)
    });
    Ok(Json(Created { id: id.await? }))
}

/// Copy a lesson: one of its own, which nobody has.
#[utoipa::path(post, operation_id = "lessons_copy", path = "/api/lessons/{id}/copy", params(("id" = i32, Path)), responses((status = 200, body = Created), (status = 404, body = Problem)))]
async fn copy(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Created>, Problem> {
    let id = state.work(move |s| {
        let (from, line) = (s.store.lesson(id)?, s.store.lesson_line(id)?);
        let doc = LessonDoc {
            title: format!("{}, copy", from.title),
            ..from.document
        };
        let id = s.store.add_lesson(&doc, author.id, now())?;
        s.store.file_lesson(id, &line.folder, None)?;
        Ok(id)
    });
    Ok(Json(Created { id: id.await? }))
}

/// Put a lesson into a folder, and away or back. Who has it keeps it.
#[utoipa::path(put, operation_id = "lessons_file", path = "/api/lessons/{id}/folder", params(("id" = i32, Path)), request_body = Filed, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn file(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(filed): Body<Filed>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let away = filed.put_away.then(now);
            Ok(s.store.file_lesson(id, &filed.folder, away)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What was worked out of a lesson by the engine of today.
pub(super) fn kept(s: &AppState, id: i32) -> Result<Option<Prospect>, Problem> {
    let text = s.store.prospect(id, ENGINE)?;
    let kept = text.map(|text| serde_json::from_str(&text)).transpose();
    kept.map_err(|_| Problem::internal())
}

/// Whether a lesson's fault can be proven, with how many readings, and what it is confused with. Where that
/// has not been worked out yet, it is when nothing is more urgent.
#[utoipa::path(get, operation_id = "lessons_prospect", path = "/api/lessons/{id}/prospect", params(("id" = i32, Path)), responses((status = 200, body = Prospect), (status = 202, body = Waiting)))]
async fn prospect(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Perhaps<Prospect>, Problem> {
    state
        .work(move |s| {
            let lesson = s.lesson(id)?;
            if !lesson.seeks_fault() {
                return Err(Problem::not_found("a fault to find on this machine"));
            }
            if let Some(kept) = kept(s, id)? {
                return Ok(Perhaps::There(kept));
            }
            let ticket = s.reasoner.reference(id, &lesson, Urgency::Idle)?;
            let task = Task::Reference(id);
            Ok(Perhaps::Waiting(Waiting::of(s, &task, &ticket)))
        })
        .await
}

/// The document of a lesson that is to be made.
pub(super) fn document(
    s: &AppState,
    new: &NewLesson,
    circuit: CircuitDoc,
    faults: Vec<FaultDoc>,
) -> Result<LessonDoc, Problem> {
    let terms = LessonTerms {
        title: new.title.clone(),
        complaint: new.complaint.clone(),
        purpose: new.purpose,
        job: new.job,
        task: new.task.clone(),
        predictions: new.predictions,
        functions: new.functions.clone().unwrap_or_else(all_functions),
        rules: new.rules.clone(),
        skills: new.skills.clone(),
        intro: None,
        told: new.told.clone(),
    };
    let binder = new.binder.as_ref().map(|b| b.document(s)).transpose()?;
    Ok(LessonDoc {
        binder,
        ..terms.on(LessonDoc::of(&new.title, circuit, faults))
    })
}

/// Try a lesson as its students will: an attempt of the instructor's own.
#[utoipa::path(post, operation_id = "lessons_try", path = "/api/lessons/{id}/try", params(("id" = i32, Path)), responses((status = 200, body = Created), (status = 404, body = Problem)))]
async fn try_oneself(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Created>, Problem> {
    let attempt = state
        .work(move |s| {
            s.store.lesson(id)?;
            Ok(s.store.own_trial(id, user.id, now())?)
        })
        .await?;
    Ok(Json(Created { id: attempt }))
}
