//! Something done at a bench: what refuses it cheaply first, then the machine, the journal, and who is told.

use cimento_diagnosis::attempt::actions::HandIn;
use cimento_diagnosis::attempt::{Action, Answer, BenchView, Refusal, Session, Step, UNSETTLED};
use cimento_diagnosis::lesson::{Lesson, Purpose};
use cimento_store::{AttemptRow, NewStep, Standing, User};
use serde::Deserialize;
use utoipa::ToSchema;

use super::attempts::of;
use super::pairs::{OwnExpectation, answered, waits_for_partner};
use crate::access::closed;
use crate::clock::now;
use crate::pace::Pace;
use crate::problem::Problem;
use crate::state::AppState;

/// Longest key of a request.
const LONGEST_KEY: usize = 64;

/// Who asks, and what the asker knows of.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct Asked {
    /// How many steps the asker knows of: another tab may have gone on.
    pub after: usize,
    /// A key of the asker's choice: sending the same again does it once.
    pub request: String,
}

/// Whether somebody works at their own bench: who teaches tries lessons on attempts of their own, and looks at others'
/// only.
pub(super) fn is_own(row: &AttemptRow, user: &User) -> Result<(), Problem> {
    match row.student_id == user.id {
        true => Ok(()),
        false => Err(Problem::forbidden("this bench is its student's")),
    }
}

/// Something to be done at a bench.
pub(super) enum Doing {
    Act(Action),
    /// What the other of two asked is done, with what one expects of it oneself.
    AnswerPartner(OwnExpectation),
}

/// Does one step on an attempt, once, and stores it before it is answered. What refuses it cheaply comes
/// before anything is computed.
pub(super) fn step(
    s: &AppState,
    student: &User,
    id: i32,
    asked: &Asked,
    doing: Doing,
) -> Result<(Pace, BenchView), Problem> {
    if asked.request.is_empty() || asked.request.len() > LONGEST_KEY {
        return Err(Problem::bad(format!(
            "request: expected 1 to {LONGEST_KEY} characters"
        )));
    }
    s.benches.at(id, |bench| {
        let standing = of(s.store.standing(id, &asked.request, student.id)?, student)?;
        let row = &standing.attempt;
        is_own(row, student)?;
        let (action, by_partner) = match doing {
            Doing::Act(action) => (action, false),
            Doing::AnswerPartner(_) if standing.done.is_some() => {
                let session = stand(s, bench, &standing)?;
                let pace = Pace::of(&session.lesson, standing.last.as_ref());
                return Ok((pace, session.changes(asked.after)));
            }
            Doing::AnswerPartner(own) => (answered(s, row, own)?, true),
        };
        if row.given.as_ref().is_some_and(|given| given.paused) {
            return Err(Problem::bad("all benches stand still: eyes up"));
        }
        if let Some(given) = &row.given
            && closed(given, now())
            && action != Action::HandIn(HandIn {})
        {
            return Err(Problem::bad(
                "this work order is closed: hand in what you have",
            ));
        }
        if standing.done.is_some() {
            let session = stand(s, bench, &standing)?;
            let pace = Pace::of(&session.lesson, Some(&action));
            return Ok((pace, session.changes(asked.after)));
        }
        if asked.after != row.steps {
            return Err(Problem::moved_on(format!(
                "this attempt has gone on elsewhere: it has {} steps, not {}; it was loaded again",
                row.steps, asked.after
            )));
        }
        let lesson = s.lesson(row.lesson_id)?;
        if left_s(s, &lesson, &standing) == Some(0) && action != Action::HandIn(HandIn {}) {
            return Err(Problem::bad("the time of this lesson is over: hand in"));
        }
        let session = stand(s, bench, &standing)?;
        let pace = Pace::of(&lesson, Some(&action));
        if !by_partner && waits_for_partner(s, row, session, &action)? {
            return Ok((Pace::of(&lesson, None), session.changes(asked.after)));
        }
        let done = match by_partner {
            true => {
                session.may_ask(&action)?;
                session.act_for_partner(action)
            }
            false => session.act(action),
        };
        match done {
            Ok(done) => {
                if let Answer::CameToNothing { text } = &done.answer
                    && text == UNSETTLED
                {
                    tracing::warn!("attempt {id}, step {}: no operating point", done.no);
                }
                let stored = NewStep {
                    step: done,
                    request: &asked.request,
                    at: now(),
                    began_passed_s: match standing.began_passed_s {
                        Some(_) => None,
                        None => Some(
                            began_passed_s(s, &standing).unwrap_or_else(|| s.passing.seconds()),
                        ),
                    },
                };
                let first = done.no == 1;
                let ends = done.action == Action::HandIn(HandIn {});
                if let Err(e) = s.store.add_step(id, &stored) {
                    *bench = None;
                    return Err(e.into());
                }
                if let Some(given) = &row.given {
                    s.live.happened(given.assignment);
                }
                // The sheet will be asked for at the end: its reference can be ready by then.
                if first {
                    s.think_ahead(row.lesson_id, &lesson);
                }
                if ends && lesson.purpose != Purpose::Tools {
                    // Where too much is waiting, it is asked for again when somebody looks.
                    let steps = session.steps().to_vec();
                    let theirs = row.partner.as_ref().map(|partner| {
                        let steps = steps.iter().cloned().map(Step::of_partner);
                        (partner.attempt, steps.collect())
                    });
                    for (id, steps) in std::iter::once((id, steps)).chain(theirs) {
                        let at_once = s.reasoner.marks_at_once(id, &lesson, &steps);
                        let asked = at_once.and_then(|made| match made {
                            Some(_) => Ok(()),
                            None => s
                                .reasoner
                                .marks(id, (row.lesson_id, &lesson), steps)
                                .map(drop),
                        });
                        if let Err(e) = asked {
                            tracing::warn!("attempt {id}: {}", e.detail);
                        }
                    }
                }
                Ok((pace, session.changes(asked.after)))
            }
            Err(refusal) => {
                // A machine that could not be solved may stand half-way.
                if matches!(refusal, Refusal::Bench(_)) {
                    *bench = None;
                }
                Err(refusal.into())
            }
        }
    })
}

/// The bench of an attempt as its journal says: the one that is kept, or one rebuilt from the journal.
pub(super) fn stand<'b>(
    s: &AppState,
    bench: &'b mut Option<Session>,
    standing: &Standing,
) -> Result<&'b mut Session, Problem> {
    let row = &standing.attempt;
    let agrees = |kept: &Session| {
        let last = kept.steps().last();
        kept.steps().len() == row.steps && last.map(|s| &s.action) == standing.last.as_ref()
    };
    match bench.take() {
        Some(kept) if agrees(&kept) => Ok(bench.insert(kept)),
        kept => {
            let steps = s.store.steps(row.id)?;
            // Somebody has gone on from where it stands: the other of two at this bench.
            let behind = |kept: &Session| {
                let last = kept.steps().last();
                last.is_none_or(|last| {
                    steps.get(last.no - 1).map(|s| &s.action) == Some(&last.action)
                })
            };
            if let Some(mut kept) = kept.filter(behind) {
                kept.go_on(&steps[kept.steps().len()..])?;
                return Ok(bench.insert(kept));
            }
            let lesson = s.lesson(row.lesson_id)?;
            Ok(bench.insert(Session::resume(&lesson, &steps)?))
        }
    }
}

/// Seconds that are left of a lesson's time, with what a student has more, by the time that has passed at the school: a
/// clock that jumps neither gives any nor takes any.
pub(super) fn left_s(s: &AppState, lesson: &Lesson, standing: &Standing) -> Option<i64> {
    let given = standing.attempt.given.as_ref();
    let more = given.map_or(0.0, |g| g.extra_minutes);
    let whole = ((lesson.limit_minutes? + more) * 60.0) as i64;
    // While all benches stand still, nobody's time runs.
    let still = given.and_then(|g| g.paused_passed_s);
    let passed = still.unwrap_or_else(|| s.passing.seconds());
    let spent = match began_passed_s(s, standing) {
        Some(began) => passed - began,
        None => 0,
    };
    Some((whole - spent).clamp(0, whole))
}

/// When an attempt began by the time that has passed at the school, if it has begun: of one from before that was on
/// record, as the clock has it.
fn began_passed_s(s: &AppState, standing: &Standing) -> Option<i64> {
    let by_clock = |at: i64| s.passing.seconds() - (now() - at).max(0);
    standing
        .began_passed_s
        .or_else(|| standing.began.map(by_clock))
}
