//! Faults of one difficulty dealt to a class. For who teaches it.

use std::collections::BTreeMap;
use std::sync::Arc;

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::suspects::{Band, deal};
use cimento_model::faults::FaultDoc;
use cimento_store::{Member, Role, Seat, Terms, User};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::assignments::TermsView;
use super::extract::Body;
use super::lessons::{NewLesson, circuit_of, document};
use crate::access::taught;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(variants))
}

/// A pool of faults for a class.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewVariants {
    /// The lesson; each of its faults is a variant of its own.
    lesson: NewLesson,
    /// Minutes that its plans may take; within 20 % of each other when absent.
    #[serde(default)]
    band: Option<Band>,
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

/// What is dealt to whom, once nothing is wrong with it.
struct Asked {
    /// A lesson for each fault of the pool.
    variants: Vec<(LessonDoc, Arc<Lesson>)>,
    students: Vec<Member>,
    benches: Vec<Bench>,
    pairs: Vec<[i32; 2]>,
    terms: Terms,
}

impl Asked {
    fn of(s: &AppState, new: &NewVariants, author: &User) -> Result<Self, Problem> {
        taught(s, new.class, author)?;
        let mut known = s.store.members()?;
        known.retain(|m| (m.class, m.role) == (new.class, Role::Student));
        let student = |id: &i32| {
            let found = known.iter().find(|m| m.person == *id);
            found
                .cloned()
                .ok_or_else(|| Problem::not_found(&format!("student {id} in this class")))
        };
        let circuit = circuit_of(s, new.lesson.circuit, new.lesson.version)?;
        let variant = |fault: &FaultDoc| {
            let doc = document(s, &new.lesson, circuit.clone(), vec![fault.clone()])?;
            Ok((doc.clone(), Lesson::new(doc)?))
        };
        Ok(Self {
            students: new.students.iter().map(student).collect::<Result<_, _>>()?,
            variants: new
                .lesson
                .faults
                .iter()
                .map(variant)
                .collect::<Result<_, Problem>>()?,
            benches: benches(&new.students, &new.pairs, &s.store.seats(new.class)?),
            pairs: new.pairs.clone(),
            terms: new.terms.terms()?,
        })
    }
}

/// Deal the faults of a pool to a class: neighbours differ, and all lie in one band of difficulty.
#[utoipa::path(post, operation_id = "lessons_variants", path = "/api/lessons/variants", request_body = NewVariants, responses((status = 200, body = Vec<Variant>), (status = 400, body = Problem), (status = 422, body = Problem)))]
async fn variants(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Body(new): Body<NewVariants>,
) -> Result<Json<Vec<Variant>>, Problem> {
    let (class, band, seed, author_id) = (new.class, new.band, new.seed, author.id);
    // Whatever is wrong with what was asked is said before anything is worked out.
    let asked = state.work(move |s| Asked::of(s, &new, &author)).await?;
    // One at a time: who deals is not the only one who waits for a plan.
    let mut out = Vec::new();
    for (doc, lesson) in &asked.variants {
        let prospect = state.reasoner.prospect(doc, Arc::clone(lesson)).await?;
        out.push(Variant {
            fault: lesson.faults[0].about(&lesson.circuit),
            minutes: prospect.plan.minutes,
            readings: prospect.plan.steps.len(),
            inside: false,
            lesson: None,
            students: Vec::new(),
        });
    }
    let dealt = state
        .work(move |s| {
            let minutes: Vec<f64> = out.iter().map(|v| v.minutes).collect();
            let beside: Vec<Vec<usize>> = asked.benches.iter().map(|b| b.beside.clone()).collect();
            let band = band.unwrap_or_else(|| Band::fair(&minutes));
            let dealt = deal(&minutes, band, &beside, seed).map_err(|e| {
                let all = out
                    .iter()
                    .map(|v| format!("{} {:.1} min", v.fault, v.minutes));
                let all: Vec<String> = all.collect();
                Problem::bad(format!("{e} ({})", all.join(", ")))
            })?;
            // Those inside the band are stored, also what nobody gets now: it is for whoever begins again.
            let inside: Vec<usize> = (0..out.len()).filter(|n| band.holds(minutes[*n])).collect();
            let pool: Vec<&LessonDoc> = inside.iter().map(|n| &asked.variants[*n].0).collect();
            let mut given: Vec<(i32, usize)> = Vec::new();
            for (bench, at) in asked.benches.iter().zip(&dealt) {
                let in_pool = inside.iter().position(|n| n == at).unwrap_or(0);
                given.extend(bench.students.iter().map(|student| (*student, in_pool)));
                let here = asked
                    .students
                    .iter()
                    .filter(|m| bench.students.contains(&m.person));
                out[*at].students.extend(here.map(|m| m.display.clone()));
            }
            let whom = (&given[..], &asked.pairs[..]);
            let stored = s
                .store
                .deal(class, (&pool, author_id), whom, &asked.terms, now())?;
            for (n, id) in inside.iter().zip(stored) {
                out[*n].inside = true;
                out[*n].lesson = Some(id);
                s.think_ahead(id, &s.lesson(id)?);
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
