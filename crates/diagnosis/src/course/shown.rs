//! Skills that a lesson's plan shows by what it does.

use std::collections::BTreeSet;

use cimento_bench::instruments::{Function, PutOn};
use cimento_model::units::Unit;

use crate::attempt::Action;
use crate::lesson::{Purpose, Skill};
use crate::suspects::{MeasuringState, PlanStep, Question, Reference};

/// A reading halves where it leaves between so much and so much of what was there, of so many places at least.
const HALVES: std::ops::RangeInclusive<f64> = 0.25..=0.75;
const WORTH_HALVING: usize = 4;
/// Readings that halve before somebody has shown that they can.
const HALVINGS: usize = 2;
/// Drops that make a survey.
const DROPS: usize = 2;

/// How a measurement is of a skill: it and whether something is unplugged for it.
type Asked<'a> = (&'a Question, bool);

/// Whether a measurement is of a skill.
type IsOf = fn(Asked<'_>) -> bool;

/// The skills that a measurement can be of, each with how.
static MEASURED: &[(Skill, IsOf)] = &[
    (Skill::SupplyDropGround, |(q, _)| {
        by(q, |f| f == Function::DC_VOLTS)
    }),
    (Skill::Clamp, |(q, _)| by(q, |f| f.put_on() == PutOn::Wire)),
    (Skill::Ripple, |(q, _)| by(q, |f| f == Function::AC_VOLTS)),
    (Skill::ScanData, |(q, _)| {
        by(q, |f| matches!(f.put_on(), PutOn::Module | PutOn::Pin))
    }),
    (Skill::BothEnds, |(q, apart)| {
        apart && by(q, |f| f.unit() == Unit::Ohm)
    }),
    (Skill::Patterns, |(q, _)| {
        matches!(q, Question::Screen { .. })
    }),
    (Skill::Exchange, |(q, _)| {
        matches!(q, Question::Exchange { .. })
    }),
];

fn by(question: &Question, is: impl Fn(Function) -> bool) -> bool {
    question.held().is_some_and(|(function, ..)| is(function))
}

/// Whether something is unplugged to come into a state.
fn is_apart(state: &MeasuringState) -> bool {
    let mut done = state.actions.iter();
    done.any(|a| matches!(a, Action::TakeApart(_)))
}

/// Whether a plan can show a skill; the others are the instructor's to declare.
pub(super) fn can_show(skill: Skill) -> bool {
    let by_the_whole = [
        Skill::PredictFirst,
        Skill::Halving,
        Skill::UnderLoad,
        Skill::DropSurvey,
        Skill::Intermittent,
        Skill::Proof,
    ];
    by_the_whole.contains(&skill) || MEASURED.iter().any(|(s, _)| *s == skill)
}

/// Whether a lesson gives no occasion to use a skill that is a matter of measuring: nothing that can be measured of its
/// machine is of that kind.
pub(super) fn has_no_occasion(reference: &Reference, skill: Skill) -> bool {
    let table = &reference.table;
    let Some((_, is)) = MEASURED.iter().find(|(s, _)| *s == skill) else {
        return false;
    };
    let mut all = table.measurements.iter();
    !all.any(|m| is((&m.question, is_apart(&table.states[m.state]))))
}

/// The skills that somebody shows who works a lesson by its plan.
pub fn shown(reference: &Reference) -> BTreeSet<Skill> {
    let lesson = &reference.lesson;
    let steps = &reference.plan.steps;
    let negative = lesson.circuit.point_at(0).map(|p| p.id.as_str());
    let apart = |step: &PlanStep| {
        let mut states = reference.table.states.iter();
        states.any(|s| s.about == step.measure.state && is_apart(s))
    };
    let measured = MEASURED.iter().filter(|(_, is)| {
        let mut steps = steps.iter();
        steps.any(|s| is((&s.measure.question, apart(s))))
    });
    let mut out: BTreeSet<Skill> = measured.map(|(skill, _)| *skill).collect();
    let mut left = reference.plan.begin.len();
    let mut halvings = 0;
    for step in steps {
        let share = step.left.len() as f64 / left.max(1) as f64;
        halvings += usize::from(left >= WORTH_HALVING && HALVES.contains(&share));
        left = step.left.len();
    }
    let held = steps.iter().filter_map(|s| s.measure.question.held());
    let drops = held.filter(|(function, red, black)| {
        *function == Function::DC_VOLTS && *black != negative && *red != negative
    });
    let drops = drops.count();
    let mended = lesson.purpose != Purpose::Tools && !lesson.faults.is_empty();
    let by_the_whole = [
        (Skill::PredictFirst, lesson.predictions),
        (Skill::Halving, halvings >= HALVINGS),
        (Skill::UnderLoad, drops > 0),
        (
            Skill::DropSurvey,
            lesson.job.is_check_up() && drops >= DROPS,
        ),
        (Skill::Intermittent, lesson.condition().is_some()),
        (Skill::Proof, mended),
    ];
    out.extend(by_the_whole.iter().filter_map(|(s, has)| has.then_some(*s)));
    out
}
