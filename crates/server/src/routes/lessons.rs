//! Lessons and to whom they are given. For instructors only.

use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use cimento_bench::instruments::Function;
use cimento_diagnosis::ENGINE;
use cimento_diagnosis::course::{MakerError, Tried, Wish, propose};
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::lesson::Weights;
use cimento_diagnosis::lesson::{
    Intro, Job, Lesson, LessonDoc, Means, Method, Papers, Purpose, School, Skill, all_functions,
    contradictions,
};
use cimento_diagnosis::suspects::{Band, Progress, Reference, deal};
use cimento_model::circuit::CircuitDoc;
use cimento_model::faults::FaultDoc;
use cimento_store::{AttemptRow, Member, Role, Terms, To, Whose};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use super::marking::{Perhaps, Waiting};
use crate::access::taught;
use crate::clock::now;
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::prospect::Prospect;
use crate::reasoner::Task;
use crate::session::Instructor;
use crate::state::AppState;

/// So many lessons are proposed at once, and for so long one looks for them.
const PROPOSED: usize = 4;
const PROPOSING: Duration = Duration::from_secs(15);

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(one, change))
        .routes(routes!(copy))
        .routes(routes!(file))
        .routes(routes!(try_oneself))
        .routes(routes!(usual))
        .routes(routes!(words))
        .routes(routes!(variants))
        .routes(routes!(prospect))
        .routes(routes!(preview))
        .routes(routes!(proposals))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewLesson {
    title: String,
    /// The complaint in the customer's words.
    complaint: String,
    circuit: i32,
    /// The version of the circuit that it is about; the present one when absent.
    #[serde(default)]
    version: Option<i32>,
    faults: Vec<FaultDoc>,
    #[serde(default)]
    purpose: Purpose,
    #[serde(default)]
    job: Job,
    predictions: bool,
    /// What the students may measure with; everything when absent.
    #[serde(default)]
    functions: Option<Vec<Function>>,
    #[serde(default)]
    rules: Rules,
    /// Skills that it practises, beside those that its plan shows.
    #[serde(default)]
    skills: Vec<Skill>,
}

/// The circuit of a lesson at the version asked for: the one in hand, or one that was kept.
fn circuit_of(s: &AppState, id: i32, version: Option<i32>) -> Result<CircuitDoc, Problem> {
    let row = s.store.circuit(id)?;
    match version {
        Some(version) if version != row.version => Ok(s.store.kept_version(id, version)?),
        _ => Ok(row.document),
    }
}

/// What a lesson allows, shows and counts, where it is not as usual.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
struct Rules {
    scope: bool,
    forbidden: Vec<Means>,
    papers: Papers,
    method: Method,
    /// Minutes by the clock from the first step on.
    limit_minutes: Option<f64>,
    limits: Limits,
    weights: Weights,
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
    })
}

#[derive(Serialize, ToSchema)]
struct LessonItem {
    id: i32,
    title: String,
    purpose: Purpose,
    job: Job,
    /// Its faults in words; empty on a bench for trying the tools.
    fault: String,
    circuit: String,
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
                    circuit: doc.circuit.title.clone(),
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
            let doc = document(&new, circuit, new.faults.clone());
            let lesson = Lesson::new(doc.clone())?;
            let id = s.store.add_lesson(&doc, author.id, now())?;
            s.prepare(id, &lesson, Urgency::GivenOut);
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
    predictions: bool,
    functions: Vec<Function>,
    rules: Rules,
    /// Skills that it practises, beside those that its plan shows.
    #[serde(default)]
    skills: Vec<Skill>,
    /// What the students read before they begin.
    #[serde(default)]
    intro: Option<Intro>,
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
            predictions: doc.predictions,
            functions: doc.functions,
            skills: doc.skills,
            intro: doc.intro,
            rules: Rules {
                scope: doc.scope,
                forbidden: doc.forbidden,
                papers: doc.papers,
                method: doc.method,
                limit_minutes: doc.limit_minutes,
                limits: doc.limits,
                weights: doc.weights,
            },
        }
    }

    /// A lesson with these terms in the place of its own.
    fn on(self, doc: LessonDoc) -> LessonDoc {
        let rules = self.rules;
        LessonDoc {
            title: self.title.trim().to_owned(),
            complaint: self.complaint.trim().to_owned(),
            purpose: self.purpose,
            job: self.job,
            predictions: self.predictions,
            functions: self.functions,
            skills: self.skills,
            intro: self.intro,
            scope: rules.scope,
            forbidden: rules.forbidden,
            papers: rules.papers,
            method: rules.method,
            limit_minutes: rules.limit_minutes,
            limits: rules.limits,
            weights: rules.weights,
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
        s.prepare(id, &lesson, Urgency::GivenOut);
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

/// A complaint in the customer's words, to be held against what a machine does.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Words {
    circuit: i32,
    /// The version that it is about; the present one when absent.
    #[serde(default)]
    version: Option<i32>,
    faults: Vec<FaultDoc>,
    complaint: String,
}

/// Where the customer's words contradict what the machine does.
#[utoipa::path(post, operation_id = "lessons_words", path = "/api/lessons/words", request_body = Words, responses((status = 200, body = Vec<String>), (status = 422, body = Problem)))]
async fn words(
    State(state): State<AppState>,
    _: Instructor,
    Body(words): Body<Words>,
) -> Result<Json<Vec<String>>, Problem> {
    let told = state
        .work(move |s| {
            let circuit = circuit_of(s, words.circuit, words.version)?;
            // Whatever it comes in for, it does what it does.
            let doc = LessonDoc {
                job: Job::CheckUpOrSound,
                ..LessonDoc::of("words", circuit, words.faults)
            };
            let lesson = Lesson::new(doc)?;
            Ok(contradictions(&words.complaint, &lesson.symptom))
        })
        .await?;
    Ok(Json(told))
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
            if lesson.purpose == Purpose::Tools {
                return Err(Problem::not_found("a fault to find on a healthy machine"));
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

/// The same for a lesson that has not been saved. It is given up when the asker goes away.
#[utoipa::path(post, operation_id = "lessons_preview", path = "/api/lessons/preview", request_body = NewLesson, responses((status = 200, body = Prospect), (status = 422, body = Problem)))]
async fn preview(
    State(state): State<AppState>,
    _: Instructor,
    Body(new): Body<NewLesson>,
) -> Result<Json<Prospect>, Problem> {
    let lesson = state
        .work(move |s| {
            let circuit = circuit_of(s, new.circuit, new.version)?;
            Ok(Lesson::new(document(&new, circuit, new.faults.clone()))?)
        })
        .await?;
    let found = Arc::new(Mutex::new(None));
    let ticket = state.reasoner.preview({
        let found = Arc::clone(&found);
        move |progress| {
            let prospect = Prospect::of(&Reference::watched(&lesson, progress)?)?;
            *found.lock().unwrap_or_else(PoisonError::into_inner) = Some(prospect);
            Ok(())
        }
    })?;
    let _unless_awaited = GiveUp(Arc::clone(&ticket.progress));
    ticket.wait().await?;
    let prospect = found.lock().unwrap_or_else(PoisonError::into_inner).take();
    Ok(Json(prospect.ok_or_else(Problem::internal)?))
}

/// A lesson without its fault, and what it is wished to be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Wished {
    /// Its title is a draft, its faults are none.
    lesson: NewLesson,
    wish: Wish,
}

/// Propose lessons on a circuit: faults by chance, each proven, until there are some or a while has passed. It is given up
/// when the asker goes away.
#[utoipa::path(post, operation_id = "lessons_proposals", path = "/api/lessons/proposals", request_body = Wished, responses((status = 200, body = Tried), (status = 422, body = Problem)))]
async fn proposals(
    State(state): State<AppState>,
    _: Instructor,
    Body(wished): Body<Wished>,
) -> Result<Json<Tried>, Problem> {
    let base = state
        .work(move |s| {
            let circuit = circuit_of(s, wished.lesson.circuit, wished.lesson.version)?;
            Ok((document(&wished.lesson, circuit, Vec::new()), wished.wish))
        })
        .await?;
    let kept = Arc::new(Mutex::new(None));
    let ticket = state.reasoner.preview({
        let kept = Arc::clone(&kept);
        move |progress| {
            let (lesson, wish) = base;
            let until = Instant::now() + PROPOSING;
            let go_on = |found: usize| found < PROPOSED && Instant::now() < until;
            let tried = propose(&lesson, &wish, progress, go_on).map_err(|e| match e {
                MakerError::Refused(refused) => Problem::from(refused),
                MakerError::Bench(e) => Problem::from(e),
            })?;
            *kept.lock().unwrap_or_else(PoisonError::into_inner) = Some(tried);
            Ok(())
        }
    })?;
    let _unless_awaited = GiveUp(Arc::clone(&ticket.progress));
    ticket.wait().await?;
    let tried = kept.lock().unwrap_or_else(PoisonError::into_inner).take();
    Ok(Json(tried.ok_or_else(Problem::internal)?))
}

/// Gives a computation up when nobody holds this any more.
struct GiveUp(Arc<Progress>);

impl Drop for GiveUp {
    fn drop(&mut self) {
        self.0.give_up();
    }
}

fn document(new: &NewLesson, circuit: CircuitDoc, faults: Vec<FaultDoc>) -> LessonDoc {
    let terms = LessonTerms {
        title: new.title.clone(),
        complaint: new.complaint.clone(),
        purpose: new.purpose,
        job: new.job,
        predictions: new.predictions,
        functions: new.functions.clone().unwrap_or_else(all_functions),
        rules: new.rules.clone(),
        skills: new.skills.clone(),
        intro: None,
    };
    terms.on(LessonDoc::of(&new.title, circuit, faults))
}

/// A pool of faults for a class.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewVariants {
    /// The lesson; each of its faults is a variant of its own.
    lesson: NewLesson,
    band: Band,
    class: i32,
    /// Its students in the order they sit.
    students: Vec<i32>,
    /// The same seed deals the same.
    seed: u64,
}

/// A fault of the pool with its difficulty, and who got it.
#[derive(Serialize, ToSchema)]
struct Variant {
    fault: String,
    /// Minutes and readings of the reference plan.
    minutes: f64,
    readings: usize,
    inside: bool,
    lesson: Option<i32>,
    students: Vec<String>,
}

/// Deal the faults of a pool to a class: neighbours differ, and all lie in one band of difficulty.
#[utoipa::path(post, operation_id = "lessons_variants", path = "/api/lessons/variants", request_body = NewVariants, responses((status = 200, body = Vec<Variant>), (status = 400, body = Problem), (status = 422, body = Problem)))]
async fn variants(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Body(new): Body<NewVariants>,
) -> Result<Json<Vec<Variant>>, Problem> {
    let dealt = state
        .work(move |s| {
            let circuit = circuit_of(s, new.lesson.circuit, new.lesson.version)?;
            taught(s, new.class, &author)?;
            let known = s.store.members()?;
            let student = |id: &i32| {
                let is =
                    |m: &&Member| (m.class, m.person, m.role) == (new.class, *id, Role::Student);
                let found = known.iter().find(is);
                found.ok_or_else(|| Problem::not_found(&format!("student {id} in this class")))
            };
            let seats = new.students.iter().map(student);
            let seats: Vec<&Member> = seats.collect::<Result<_, _>>()?;
            let (mut documents, mut out) = (Vec::new(), Vec::new());
            for fault in &new.lesson.faults {
                let doc = document(&new.lesson, circuit.clone(), vec![fault.clone()]);
                let lesson = Lesson::new(doc.clone())?;
                let plan = Reference::new(&lesson)?.plan;
                documents.push(doc);
                out.push(Variant {
                    fault: lesson.faults[0].about(&lesson.circuit),
                    minutes: plan.minutes,
                    readings: plan.steps.len(),
                    inside: new.band.holds(plan.minutes),
                    lesson: None,
                    students: Vec::new(),
                });
            }
            let minutes: Vec<f64> = out.iter().map(|v| v.minutes).collect();
            let dealt = deal(&minutes, new.band, seats.len(), new.seed).map_err(|e| {
                let all = out
                    .iter()
                    .map(|v| format!("{} {:.1} min", v.fault, v.minutes));
                let all: Vec<String> = all.collect();
                Problem::bad(format!("{e} ({})", all.join(", ")))
            })?;
            for (at, variant) in out.iter_mut().enumerate() {
                let sits = seats.iter().zip(&dealt).filter(|(_, got)| **got == at);
                let sits: Vec<&Member> = sits.map(|(seat, _)| *seat).collect();
                if sits.is_empty() {
                    continue;
                }
                let id = s.store.add_lesson(&documents[at], author.id, now())?;
                let given: Vec<i32> = sits.iter().map(|m| m.person).collect();
                let terms = Terms::default();
                s.store
                    .assign(new.class, id, To::Some(&given), &terms, now())?;
                s.prepare(id, &s.lesson(id)?, Urgency::GivenOut);
                variant.lesson = Some(id);
                variant.students = sits.iter().map(|m| m.display.clone()).collect();
            }
            Ok(out)
        })
        .await?;
    Ok(Json(dealt))
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
