//! Courses: lessons in the order they are taught, what each practises, and how far a class is. For instructors only.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_diagnosis::ENGINE;
use cimento_diagnosis::course::{COURSE_FORMAT, CourseDoc, CourseLesson, Held, Proof, untaught};
use cimento_diagnosis::lesson::{Job, Lesson, LessonDoc, Purpose, Skill, SkillCard};
use cimento_model::circuit::Refused;
use cimento_store::{AttemptRow, CourseEntry, CourseRow, Role, User, Whose};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::attempts::load;
use super::extract::{Body, Path};
use super::file::{File, JSON, file};
use super::lessons::kept;
use super::start::{PracticeItem, is_open};
use crate::access::{sheet_shows, taught, to_attempt};
use crate::clock::now;
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::prospect::Prospect;
use crate::session::{Instructor, SignedIn};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(one, change))
        .routes(routes!(prove))
        .routes(routes!(document))
        .routes(routes!(take_in))
        .routes(routes!(skills))
        .routes(routes!(practised))
        .routes(routes!(take))
}

/// A course in a list.
#[derive(Serialize, ToSchema)]
struct CourseItem {
    id: i32,
    title: String,
    about: String,
    put_away: bool,
    lessons: usize,
    /// Classes of one's own that take it.
    classes: Vec<String>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewCourse {
    title: String,
    #[serde(default)]
    about: String,
}

#[derive(Serialize, ToSchema)]
struct CreatedCourse {
    id: i32,
}

/// A course as it is to be from now on.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CourseChange {
    title: String,
    about: String,
    put_away: bool,
    /// Its lessons, in the order they are taught.
    lessons: Vec<CoursePlace>,
}

/// A lesson in a chapter.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CoursePlace {
    lesson: i32,
    chapter: String,
}

/// A course with its lessons and who takes it.
#[derive(Serialize, ToSchema)]
struct CourseView {
    id: i32,
    title: String,
    about: String,
    put_away: bool,
    lessons: Vec<CourseLine>,
    classes: Vec<CourseClass>,
}

/// A lesson of a course.
#[derive(Serialize, ToSchema)]
struct CourseLine {
    /// At its latest version.
    lesson: i32,
    title: String,
    chapter: String,
    circuit: String,
    purpose: Purpose,
    job: Job,
    /// A fault is looked for: there is something to prove.
    seeks_fault: bool,
    /// What else is asked for, in a word; empty where a fault is looked for.
    asks: &'static str,
    /// Its faults in words; empty on a bench for trying the tools.
    fault: String,
    /// Skills that it declares.
    declared: Vec<Skill>,
    /// What was proven of it; absent until that has been worked out.
    proof: Option<Proof>,
    /// Skills that it needs and nothing before it practises, each in a sentence.
    too_early: Vec<String>,
}

/// A class that takes a course.
#[derive(Serialize, ToSchema)]
struct CourseClass {
    id: i32,
    name: String,
    done: Vec<CourseDone>,
}

/// How far a class is with a lesson that was given to it.
#[derive(Serialize, ToSchema)]
struct CourseDone {
    lesson: i32,
    /// Students who have it.
    given: usize,
    handed_in: usize,
}

/// All courses.
#[utoipa::path(get, operation_id = "courses_list", path = "/api/courses", responses((status = 200, body = Vec<CourseItem>)))]
async fn list(
    State(state): State<AppState>,
    Instructor(user): Instructor,
) -> Result<Json<Vec<CourseItem>>, Problem> {
    let items = state.work(move |s| {
        let mut out = Vec::new();
        for course in s.store.courses()? {
            out.push(CourseItem {
                id: course.id,
                title: course.title,
                about: course.about,
                put_away: course.retired_at.is_some(),
                lessons: s.store.course_lessons(course.id)?.len(),
                classes: takers(s, course.id, &user)?
                    .into_iter()
                    .map(|(_, name)| name)
                    .collect(),
            });
        }
        Ok(out)
    });
    Ok(Json(items.await?))
}

/// Make a course without lessons.
#[utoipa::path(post, operation_id = "courses_create", path = "/api/courses", request_body = NewCourse, responses((status = 200, body = CreatedCourse), (status = 400, body = Problem)))]
async fn create(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Body(new): Body<NewCourse>,
) -> Result<Json<CreatedCourse>, Problem> {
    let made = state.work(move |s| {
        Ok(s.store
            .add_course(&new.title, &new.about, author.id, now())?)
    });
    Ok(Json(CreatedCourse { id: made.await? }))
}

/// The classes of somebody's own that take a course.
fn takers(s: &AppState, course: i32, user: &User) -> Result<Vec<(i32, String)>, Problem> {
    let takes = s.store.courses_of_classes()?;
    let classes = s.store.classes(user.id)?.into_iter();
    let own = classes.filter(|c| c.asker == Some(Role::Instructor));
    let takers = own.filter(|c| takes.get(&c.id) == Some(&course));
    Ok(takers.map(|c| (c.id, c.name)).collect())
}

fn proven(s: &AppState, lesson: i32) -> Result<Option<Proof>, Problem> {
    Ok(kept(s, lesson)?.map(Prospect::into_proof))
}

/// A course with what each lesson practises, what was proven of it, and how far one's classes are.
#[utoipa::path(get, operation_id = "courses_one", path = "/api/courses/{id}", params(("id" = i32, Path)), responses((status = 200, body = CourseView), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<Json<CourseView>, Problem> {
    let view = state.work(move |s| {
        let course = s.store.course(id)?;
        let entries = s.store.course_lessons(id)?;
        let mut documents: Vec<(CourseEntry, LessonDoc)> = Vec::new();
        for entry in entries {
            let document = s.store.lesson(entry.lesson)?.document;
            documents.push((entry, document));
        }
        let declared: Vec<Vec<Skill>> = documents.iter().map(|(_, d)| d.skills.clone()).collect();
        let missing = untaught(&declared);
        let mut lessons = Vec::new();
        for (n, (entry, doc)) in documents.into_iter().enumerate() {
            let too_early = missing.iter().filter(|(at, ..)| *at == n);
            let sentence = |(_, skill, needed): &(usize, Skill, Skill)| {
                format!("“{}” needs “{}” first", skill.name(), needed.name())
            };
            lessons.push(CourseLine {
                lesson: entry.lesson,
                title: entry.title,
                chapter: entry.chapter,
                circuit: doc.circuit.title.clone(),
                purpose: doc.purpose,
                job: doc.job,
                seeks_fault: doc.seeks_fault(),
                asks: doc.task.word(),
                fault: doc.fault_in_words()?,
                declared: doc.skills,
                proof: proven(s, entry.lesson)?,
                too_early: too_early.map(sentence).collect(),
            });
        }
        let mut classes = Vec::new();
        for (class, name) in takers(s, id, &user)? {
            let done = s.store.done_in_class(class)?.into_iter();
            let of_course = done.filter(|(lesson, _)| lessons.iter().any(|l| l.lesson == *lesson));
            classes.push(CourseClass {
                id: class,
                name,
                done: of_course
                    .map(|(lesson, done)| CourseDone {
                        lesson,
                        given: done.given,
                        handed_in: done.handed_in,
                    })
                    .collect(),
            });
        }
        Ok(CourseView {
            id,
            title: course.title,
            about: course.about,
            put_away: course.retired_at.is_some(),
            lessons,
            classes,
        })
    });
    Ok(Json(view.await?))
}

/// Change a course: its name, its lessons and their order. Lessons themselves are not touched, nor what was given out.
#[utoipa::path(put, operation_id = "courses_change", path = "/api/courses/{id}", params(("id" = i32, Path)), request_body = CourseChange, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn change(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(change): Body<CourseChange>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let was = s.store.course(id)?;
            let course = CourseRow {
                title: change.title,
                about: change.about,
                retired_at: change.put_away.then(|| was.retired_at.unwrap_or_else(now)),
                ..was
            };
            let places = change.lessons.into_iter().map(|p| (p.lesson, p.chapter));
            let places: Vec<(i32, String)> = places.collect();
            Ok(s.store.change_course(&course, &places)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Have everything proven that has not been worked out yet, when nothing is more urgent.
#[utoipa::path(post, operation_id = "courses_prove", path = "/api/courses/{id}/proof", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn prove(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            s.store.course(id)?;
            for entry in s.store.course_lessons(id)? {
                if s.store.prospect(entry.lesson, ENGINE)?.is_none() {
                    let lesson = s.lesson(entry.lesson)?;
                    s.prepare(entry.lesson, &lesson, Urgency::Idle);
                }
            }
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A course with its lessons, as another school takes it in.
#[utoipa::path(get, operation_id = "courses_document", path = "/api/courses/{id}/document", params(("id" = i32, Path)), responses((status = 200, body = CourseDoc), (status = 404, body = Problem)))]
async fn document(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<File, Problem> {
    let text = state.work(move |s| {
        let course = s.store.course(id)?;
        let mut lessons = Vec::new();
        for entry in s.store.course_lessons(id)? {
            lessons.push(CourseLesson {
                lesson: Held::Whole(Box::new(s.store.lesson(entry.lesson)?.document)),
                circuit: None,
                chapter: entry.chapter,
            });
        }
        let whole = CourseDoc {
            format: COURSE_FORMAT.to_owned(),
            version: 1,
            title: course.title,
            about: course.about,
            lessons,
        };
        serde_json::to_string(&whole).map_err(|_| Problem::internal())
    });
    Ok(file(&format!("course-{id}.json"), JSON, text.await?))
}

/// Take in a course with its lessons: all of it, or nothing. Lessons are kept in folders by chapter.
#[utoipa::path(post, operation_id = "courses_take_in", path = "/api/courses/import", request_body = CourseDoc, responses((status = 200, body = CreatedCourse), (status = 422, body = Problem)))]
async fn take_in(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Body(course): Body<CourseDoc>,
) -> Result<Json<CreatedCourse>, Problem> {
    let made = state.work(move |s| {
        let refused = |path: String, message: &str| {
            Problem::refused(std::iter::once((path, message.to_owned())))
        };
        course.check().map_err(|p| refused(p.path, &p.message))?;
        let mut lessons = Vec::new();
        for (n, entry) in course.lessons.iter().enumerate() {
            let Held::Whole(lesson) = &entry.lesson else {
                let text =
                    "expected the lesson itself: `cimento course FILE --whole` writes a course so";
                return Err(refused(format!("lessons[{n}].lesson"), text));
            };
            Lesson::new((**lesson).clone()).map_err(|Refused(problems)| {
                let within = problems.into_iter();
                Problem::refused(
                    within.map(|p| (format!("lessons[{n}].lesson.{}", p.path), p.message)),
                )
            })?;
            lessons.push((&**lesson, entry.chapter.as_str()));
        }
        let named = (course.title.as_str(), course.about.as_str());
        Ok(s.store.take_in_course(named, &lessons, author.id, now())?)
    });
    Ok(Json(CreatedCourse { id: made.await? }))
}

/// Every skill of the trade, those that others stand on first.
#[utoipa::path(get, operation_id = "courses_skills", path = "/api/skills", responses((status = 200, body = Vec<SkillCard>)))]
async fn skills(_: Instructor) -> Json<Vec<SkillCard>> {
    Json(Skill::all().map(Skill::card).collect())
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Taken {
    /// None when it takes none any more.
    course: Option<i32>,
}

/// Let a class take a course, or none.
#[utoipa::path(put, operation_id = "courses_take", path = "/api/classes/{id}/course", params(("id" = i32, Path)), request_body = Taken, responses((status = 204), (status = 404, body = Problem)))]
async fn take(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(taken): Body<Taken>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            taught(s, id, &user)?;
            Ok(s.store.take_course(id, taken.course)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What a lesson was for, told when its sheet shows, and what comes next.
#[derive(Serialize, ToSchema)]
struct Afterwards {
    skills: Vec<SkillCard>,
    /// The next lesson of the class's course that its student has and can begin.
    next: Option<PracticeItem>,
}

/// What a lesson practised and what comes next: for the student once the sheet shows, for who teaches at any time.
#[utoipa::path(get, operation_id = "attempts_practised", path = "/api/attempts/{id}/practised", params(("id" = i32, Path)), responses((status = 200, body = Afterwards), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn practised(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<Afterwards>, Problem> {
    let told = state.work(move |s| {
        let (row, lesson, _) = load(s, &user, id)?;
        let sees = to_attempt(&row, &user).is_some_and(|access| access.sees);
        let shows = row.handed_in && sheet_shows(&row, lesson.purpose, now());
        if !(sees || shows) {
            return Err(Problem::forbidden("this shows with the mark sheet"));
        }
        let shown = proven(s, row.lesson_id)?.map_or(Vec::new(), |p| p.skills);
        let mut skills: Vec<Skill> = shown.iter().map(|p| p.skill).collect();
        skills.extend(&lesson.skills);
        skills.sort_unstable();
        skills.dedup();
        Ok(Afterwards {
            skills: skills.into_iter().map(Skill::card).collect(),
            next: next_of(s, &row)?,
        })
    });
    Ok(Json(told.await?))
}

/// The lesson after an attempt's in the course of its class, where its student can begin it.
fn next_of(s: &AppState, row: &AttemptRow) -> Result<Option<PracticeItem>, Problem> {
    let Some(given) = &row.given else {
        return Ok(None);
    };
    let Some(course) = s.store.courses_of_classes()?.remove(&given.class) else {
        return Ok(None);
    };
    let own = s.store.lesson_line(row.lesson_id)?.family;
    let entries = s.store.course_lessons(course)?.into_iter();
    let later: Vec<CourseEntry> = entries.skip_while(|e| e.family != own).skip(1).collect();
    let attempts = s.store.attempts(Whose::Of(row.student_id))?;
    let at = now();
    let open = |e: &CourseEntry| {
        let mut same = attempts.iter().filter(|a| a.lesson_id == e.lesson);
        same.find(|a| a.given.is_some() && is_open(a, at))
    };
    Ok(later.iter().find_map(open).map(PracticeItem::of))
}
