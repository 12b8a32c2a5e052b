//! Lessons in the making: what one that is not saved can show, faults that would make one, and faults dealt to a class. For
//! instructors only.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::course::{MakerError, Tried, Wish, propose};
use cimento_diagnosis::lesson::{Job, Lesson, LessonDoc, contradictions};
use cimento_diagnosis::suspects::{Band, Progress, Reference, deal};
use cimento_model::faults::FaultDoc;
use cimento_store::{Member, Role, Seat, To};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::assignments::TermsView;
use super::extract::Body;
use super::lessons::{NewLesson, circuit_of, document};
use crate::access::taught;
use crate::clock::now;
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::prospect::Prospect;
use crate::session::Instructor;
use crate::state::AppState;

/// So many lessons are proposed at once, and for so long one looks for them.
const PROPOSED: usize = 4;
const PROPOSING: Duration = Duration::from_secs(15);

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(words))
        .routes(routes!(preview))
        .routes(routes!(proposals))
        .routes(routes!(variants))
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

/// What a lesson that has not been saved can show. It is given up when the asker goes away.
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

/// A pool of faults for a class.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewVariants {
    /// The lesson; each of its faults is a variant of its own.
    lesson: NewLesson,
    band: Band,
    class: i32,
    students: Vec<i32>,
    /// Those of them who work two at a bench: they get one fault.
    #[serde(default)]
    pairs: Vec<[i32; 2]>,
    #[serde(default)]
    terms: TermsView,
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

/// A bench of a class: who works at it, and which of those before it are next to it.
#[derive(Debug, PartialEq)]
struct Bench {
    students: Vec<i32>,
    beside: Vec<usize>,
}

/// The benches of students, row by row as they sit; who has no seat comes after them, beside whoever was named before.
fn benches(students: &[i32], pairs: &[[i32; 2]], seats: &BTreeMap<i32, Seat>) -> Vec<Bench> {
    let with = |one: i32| {
        let of = pairs.iter().find(|p| p.contains(&one));
        of.and_then(|p| p.iter().copied().find(|other| *other != one))
    };
    let mut order: Vec<i32> = students.to_vec();
    order.sort_by_key(|student| {
        let seat = seats.get(student);
        seat.map_or((i32::MAX, 0), |s| (s.row, s.column))
    });
    let mut out: Vec<Bench> = Vec::new();
    for student in order {
        let sat = |b: &Bench| b.students.contains(&student);
        if out.iter().any(sat) {
            continue;
        }
        let partner = with(student).filter(|other| students.contains(other));
        let here: Vec<i32> = std::iter::once(student).chain(partner).collect();
        let near = |a: &i32, b: &i32| match (seats.get(a), seats.get(b)) {
            (Some(a), Some(b)) => a.column.abs_diff(b.column) + a.row.abs_diff(b.row) == 1,
            _ => false,
        };
        let seated = here.iter().any(|s| seats.contains_key(s));
        let mut beside: Vec<usize> = Vec::new();
        for (n, other) in out.iter().enumerate() {
            let next = here
                .iter()
                .any(|a| other.students.iter().any(|b| near(a, b)));
            let last = !seated && n + 1 == out.len();
            beside.extend((next || last).then_some(n));
        }
        out.push(Bench {
            students: here,
            beside,
        });
    }
    out
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
            let students = new.students.iter().map(student);
            let students: Vec<&Member> = students.collect::<Result<_, _>>()?;
            let terms = new.terms.terms()?;
            let benches = benches(&new.students, &new.pairs, &s.store.seats(new.class)?);
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
            let beside: Vec<Vec<usize>> = benches.iter().map(|b| b.beside.clone()).collect();
            let dealt = deal(&minutes, new.band, &beside, new.seed).map_err(|e| {
                let all = out
                    .iter()
                    .map(|v| format!("{} {:.1} min", v.fault, v.minutes));
                let all: Vec<String> = all.collect();
                Problem::bad(format!("{e} ({})", all.join(", ")))
            })?;
            for (at, variant) in out.iter_mut().enumerate() {
                let got = benches.iter().zip(&dealt).filter(|(_, got)| **got == at);
                let given: Vec<i32> = got.flat_map(|(bench, _)| bench.students.clone()).collect();
                if given.is_empty() {
                    continue;
                }
                let id = s.store.add_lesson(&documents[at], author.id, now())?;
                let pairs = new.pairs.iter().copied();
                let pairs: Vec<[i32; 2]> = pairs.filter(|p| given.contains(&p[0])).collect();
                let to = (To::Some(&given), &pairs[..]);
                s.store.assign_in_pairs(new.class, id, to, &terms, now())?;
                s.prepare(id, &s.lesson(id)?, Urgency::GivenOut);
                variant.lesson = Some(id);
                let named = students.iter().filter(|m| given.contains(&m.person));
                variant.students = named.map(|m| m.display.clone()).collect();
            }
            Ok(out)
        })
        .await?;
    Ok(Json(dealt))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(seats: &[(i32, i32, i32)]) -> BTreeMap<i32, Seat> {
        let seat = |(student, column, row): &(i32, i32, i32)| {
            let (column, row) = (*column, *row);
            (*student, Seat { column, row })
        };
        seats.iter().map(seat).collect()
    }

    /// Two rows of two, a pair at one of the benches, and one without a seat.
    #[test]
    fn benches_are_beside_as_they_stand_in_the_room() {
        let seats = at(&[(4, 0, 0), (3, 1, 0), (2, 0, 1), (1, 2, 0)]);
        let found = benches(&[1, 2, 3, 4, 5], &[[3, 1]], &seats);
        let all: Vec<(Vec<i32>, Vec<usize>)> =
            found.into_iter().map(|b| (b.students, b.beside)).collect();
        let wanted = [
            (vec![4], vec![]),
            (vec![3, 1], vec![0]),
            (vec![2], vec![0]),
            (vec![5], vec![2]),
        ];
        assert_eq!(all, wanted);
    }
}
