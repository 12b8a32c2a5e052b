//! Repair and proof: is the complaint gone, and was that shown?

use super::case::{Case, Taken, same_unit};
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::attempt::actions::{Repair, TryComplaint};
use crate::attempt::{Action, RepairKind, Session};
use cimento_bench::{Bench, BenchError, complaint};
use cimento_model::circuit::Place;
use cimento_model::faults::Condition;

/// Marks of the parts, out of 10, and what is lost for each sound part renewed.
const GONE: f64 = 5.0;
const TRIED: f64 = 3.0;
const REPEATED: f64 = 2.0;
const WHOLE: f64 = GONE + TRIED + REPEATED;
const SOUND_PART: f64 = 3.0;

pub(super) struct RepairAndProof;

impl Criterion for RepairAndProof {
    fn name(&self) -> &'static str {
        "repair"
    }

    fn title(&self) -> &'static str {
        "Repair and proof"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        if case.lesson.faults.is_empty() {
            return sound(case);
        }
        // What comes of the repair itself is another matter.
        let mut repairs = case.first_visit().iter().rev();
        let last = repairs.find(|s| matches!(s.action, Action::Repair(_)));
        let Some(last) = last else {
            let text = "Nothing was repaired: mend what you have named, and prove it.".to_owned();
            return Ok(Judgement {
                share: Some(0.0),
                details: vec![Detail::new(None, text, 0.0, WHOLE)],
            });
        };
        let mut details = match case.lesson.noticed {
            true => vec![
                gone(case, last.no)?,
                tried(case, last.no)?,
                repeated(case, last.no, REPEATED),
            ],
            // What is not noticed from the seat is proven by the reading that told it.
            false => vec![
                mended(case, last.no),
                repeated(case, last.no, TRIED + REPEATED),
            ],
        };
        for step in sound_parts(case)? {
            let text = format!("{} was renewed though nothing was wrong with it.", step.1);
            details.push(Detail::new(Some(step.0), text, -SOUND_PART, 0.0));
        }
        Ok(Judgement::of(details, WHOLE))
    }
}

/// On a sound machine nothing is to be mended: what was renewed takes the marks, or what was named to be; who left it
/// alone has none to earn.
fn sound(case: &Case<'_>) -> Result<Judgement, BenchError> {
    let renewed = sound_parts(case)?;
    let detail = |(step, id): (usize, String)| {
        let text = format!("{id} was renewed on a sound machine.");
        Detail::new(Some(step), text, 0.0, WHOLE)
    };
    let mut details: Vec<Detail> = renewed.into_iter().map(detail).collect();
    if let (true, Some(named)) = (details.is_empty(), case.named.last()) {
        let text = "A fault was named on a sound machine: the customer pays for what is mended, and gets nothing for it.";
        details.push(Detail::new(Some(named.step), text.to_owned(), 0.0, WHOLE));
    }
    Ok(Judgement {
        share: (!details.is_empty()).then_some(0.0),
        details,
    })
}

/// What measurements found is mended when nothing of it is left.
fn mended(case: &Case<'_>, step: usize) -> Detail {
    let left = case.handed_over().bench().faults();
    let (text, earned) = match left.is_empty() {
        true => ("What was wrong is mended.", GONE),
        false => ("What is wrong is still there.", 0.0),
    };
    Detail::new(Some(step), text.to_owned(), earned, GONE)
}

/// The machine as it was left is tried once more, beside a healthy one.
fn gone(case: &Case<'_>, step: usize) -> Result<Detail, BenchError> {
    let lesson = case.lesson;
    let handed_over = case.handed_over().bench();
    let mut left = Bench::new(&lesson.circuit, handed_over.faults())?;
    left.carry_over(handed_over);
    // A fault that comes and goes is tried when it comes.
    left.set(lesson.under_condition(left.state().clone()))?;
    let now = complaint(&mut left)?;
    let is_gone = now.same_as(&lesson.healthy_symptom);
    let (text, earned) = if is_gone {
        ("The complaint is gone.".to_owned(), GONE)
    } else {
        (format!("The complaint is still there: {}", now.text), 0.0)
    };
    Ok(Detail::new(Some(step), text, earned, GONE))
}

/// A trial after the repair proves something under the condition under which the fault showed.
fn tried(case: &Case<'_>, repair: usize) -> Result<Detail, BenchError> {
    let lesson = case.lesson;
    let mut session = Session::start(&case.reference.lesson);
    let (mut cold, mut shown) = (None, None);
    for step in case.first_visit() {
        if step.no > repair && step.action == Action::TryComplaint(TryComplaint {}) {
            let state = session.bench().state();
            let mut conditional = lesson
                .faults
                .iter()
                .filter(|f| f.when != Condition::Vibrating);
            match conditional.all(|f| f.is_active(&lesson.circuit, state)) {
                true => shown = shown.or(Some(step.no)),
                false => cold = Some(step.no),
            }
        }
        session.act(step.action.clone())?;
    }
    let detail = |step: Option<usize>, text: &str, earned: f64| {
        Detail::new(step, text.to_owned(), earned, TRIED)
    };
    Ok(match (shown, cold) {
        (Some(step), _) => detail(
            Some(step),
            "The complaint was tried again after the repair.",
            TRIED,
        ),
        (None, Some(step)) => detail(
            Some(step),
            "The complaint was tried after the repair, but not as it had shown: a trial without the heat, water or movement that brings it on proves nothing.",
            0.0,
        ),
        (None, None) => detail(
            None,
            "The complaint was not tried again after the repair: always prove it.",
            0.0,
        ),
    })
}

/// A reading that was out before the repair, taken again after it in the same state. What shows in nothing that is out of
/// its limits is told by what ruled something out.
fn repeated(case: &Case<'_>, repair: usize, marks: f64) -> Detail {
    let before = || case.readings.iter().filter(|t| t.step < repair);
    let is_out =
        |t: &&Taken<'_>| !crate::key::agree(&t.healthy.shown, &t.reading.shown, t.tolerance);
    let any_out = before().any(|t| is_out(&t));
    let telling = before().filter(|t| match any_out {
        true => is_out(t),
        false => case.ruled_out(t.step) > 0,
    });
    let again = telling.clone().find_map(|t| {
        case.readings.iter().find(|r| {
            let key = |x: &cimento_bench::instruments::Reading| {
                (x.function, x.red.clone(), x.black.clone(), x.state.clone())
            };
            r.step > repair
                && r.step <= case.first_visit().len()
                && key(r.reading) == key(t.reading)
        })
    });
    match (again, telling.count()) {
        (Some(t), _) => Detail::new(
            Some(t.step),
            "The telling reading was repeated.".to_owned(),
            marks,
            marks,
        ),
        (None, 0) => Detail::new(
            None,
            "No reading had told the fault, so none could be repeated.".to_owned(),
            0.0,
            marks,
        ),
        (None, _) => Detail::new(
            None,
            "No reading that had told the fault was repeated after the repair: take it once more, it proves the repair.".to_owned(),
            0.0,
            marks,
        ),
    }
}

/// Parts that were renewed while sound: no fault in them or in what no reading tells from it, no melted insulation, and no
/// fuse, which is a consumable.
fn sound_parts(case: &Case<'_>) -> Result<Vec<(usize, String)>, BenchError> {
    let circuit = &case.lesson.circuit;
    let mut out = Vec::new();
    let mut session = Session::start(&case.reference.lesson);
    for step in case.steps {
        if let Action::Repair(Repair {
            place,
            how: RepairKind::Renew | RepairKind::SendOut,
            ..
        }) = &step.action
            && let Some(place) = circuit.place(place)
        {
            let mut faults = session.bench().faults().iter();
            let faulty = faults.any(|f| f.places().any(|at| same_unit(at, place)));
            let bare = matches!(place, Place::Conductor(n) if session.bench().is_bare(n));
            let consumable = matches!(place, Place::Part(n) if circuit.parts[n].kind.is_fuse());
            let alike = case.is_guilty(place);
            if !faulty && !bare && !consumable && !alike {
                out.push((step.no, circuit.place_id(place).to_owned()));
            }
        }
        session.act(step.action.clone())?;
    }
    Ok(out)
}
