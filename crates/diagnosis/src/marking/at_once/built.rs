//! A machine that was wired: what it does in every state, whether current goes where it belongs, what burns behind its
//! fuses, what its wires lose, and whether it was wired as listed.

use std::sync::Arc;

use super::super::sheet::Detail;
use super::{Made, line};
use crate::attempt::{Action, Answer, Step};
use crate::build::{Build, ToBuild, Wanted, noticed, rewired};
use crate::key::{mid, through_node};
use crate::lesson::Lesson;
use cimento_bench::{Bench, BenchError, Shared, unprotected_wires};
use cimento_model::circuit::{Circuit, ConductorKind, WireDoc};

/// Marks of 100: for what it does, for where current goes, for fuses that protect, for what is lost on the way; of the
/// last, half goes to the list where there is one.
const BEHAVIOUR: f64 = 45.0;
const CURRENT: f64 = 20.0;
const PROTECTION: f64 = 15.0;
const DROPS: f64 = 20.0;
/// A current is the same within this share, and so many amperes.
const SAME_SHARE: f64 = 0.3;
const SAME_A: f64 = 0.2;
/// From here on a wire is held against what it may lose, in amperes.
const CARRIES_A: f64 = 0.05;

/// The machine as it was wired in the end.
fn wired(build: &ToBuild, steps: &[Step]) -> Arc<Circuit> {
    let mut circuit = Arc::clone(&build.start);
    let done = steps.iter().filter(|s| s.answer == Answer::Noted);
    for step in done {
        let change = match &step.action {
            Action::Wire(it) => it.change(),
            Action::Unwire(it) => it.change(),
            Action::SayPath(it) => it.change(),
            _ => continue,
        };
        // What was done then can be done again.
        if let Ok(new) = rewired(&build.start.doc, &circuit.doc, &change) {
            circuit = new;
        }
    }
    circuit
}

pub(super) fn made(
    lesson: &Lesson,
    asked: &Build,
    build: &ToBuild,
    steps: &[Step],
) -> Result<Made, BenchError> {
    let circuit = wired(build, steps);
    let [as_built, as_wanted] = [Shared::default(), Shared::default()];
    let mut both = Vec::new();
    for state in &build.wanted {
        let mut benches = [
            Bench::sharing(&circuit, &[], &as_built)?,
            Bench::sharing(&lesson.circuit, &[], &as_wanted)?,
        ];
        for bench in &mut benches {
            bench.set(state.state.clone())?;
        }
        both.push((state, benches));
    }
    let behaviour = behaviour(&both);
    let [earned, possible] = behaviour
        .iter()
        .fold([0.0, 0.0], |[e, p], d| [e + d.earned, p + d.possible]);
    // What does nothing of what was wanted has neither fuses nor drops to be marked.
    let works = if possible > 0.0 {
        earned / possible
    } else {
        0.0
    };
    let current = current(&both);
    // What was there from the start is not theirs.
    let own = |id: &str| !build.start.doc.wires.iter().any(|w| w.id == id);
    let protection = protection(&circuit, works, &own)?;
    let drops = drops(lesson, &both, works, &own);
    let listed = asked
        .by_list
        .then(|| listed(&build.list, &circuit.doc.wires));
    let of_drops = if listed.is_some() { DROPS / 2.0 } else { DROPS };
    let weak = |details: &[Detail]| details.iter().any(|d| d.earned < d.possible);
    let practise = match (
        weak(&behaviour),
        weak(&protection),
        weak(&drops) || weak(&current),
    ) {
        (true, ..) => {
            "Say each path aloud from battery positive to battery negative before you wire it, and try every lever after."
        }
        (_, true, _) => {
            "A fuse protects the thinnest wire behind it: choose the area by the fuse, not only by the load."
        }
        (_, _, true) => {
            "Let the relay carry the load and the switch the relay, each through its own fuse, with wires as thick as their current asks."
        }
        _ => "All of it was right: find a fault by it now.",
    };
    let mut lines = vec![
        line("behaviour", "What it does", behaviour, BEHAVIOUR),
        line("current", "Current where it belongs", current, CURRENT),
        line(
            "protection",
            "Fuses protect their wires",
            protection,
            PROTECTION,
        ),
        line("drops", "Drops within limits", drops, of_drops),
    ];
    if let Some(listed) = listed {
        lines.push(line("listed", "As listed", listed, DROPS - of_drops));
    }
    Ok(Made { lines, practise })
}

type Beside<'a> = (&'a Wanted, [Bench; 2]);

/// A detail for each state in which it is to do something new, and for each in which it does what it should not.
fn behaviour(both: &[Beside<'_>]) -> Vec<Detail> {
    let each = both.iter().filter_map(|(wanted, [built, _])| {
        let (signs, does) = noticed(built);
        let right = signs == wanted.signs;
        if wanted.already && right {
            return None;
        }
        let said = |text: &str| {
            if text.is_empty() {
                "nothing".to_owned()
            } else {
                text.to_owned()
            }
        };
        let label = &wanted.label;
        let text = match right {
            true => format!("{label}: {}.", said(&does)),
            false => format!("{label}: {}; wanted: {}.", said(&does), said(&wanted.text)),
        };
        Some(Detail::new(None, text, f64::from(u8::from(right)), 1.0))
    });
    each.collect()
}

/// Fuses, switches and relays carry what they carry on a machine that was wired as wanted.
fn current(both: &[Beside<'_>]) -> Vec<Detail> {
    let mut out: Vec<Detail> = Vec::new();
    let Some((_, [_, first])) = both.first() else {
        return out;
    };
    for (n, part) in first.circuit.parts.iter().enumerate() {
        let contacts = part.kind.contacts(&part.params);
        if !part.kind.is_fuse() && contacts.is_empty() {
            continue;
        }
        let amps = |bench: &Bench| -> Vec<f64> {
            let nodes = bench.circuit.parts[n].nodes.iter();
            nodes.map(|node| through_node(bench, *node)).collect()
        };
        let mut carries = false;
        let mut wrong = None;
        for (wanted, [built, whole]) in both {
            for (is, should) in amps(built).into_iter().zip(amps(whole)) {
                carries |= should >= CARRIES_A;
                let off = (is - should).abs();
                if wrong.is_none() && off > SAME_A + SAME_SHARE * should {
                    wrong = Some((&wanted.label, is, should));
                }
            }
        }
        if !carries && wrong.is_none() {
            continue;
        }
        let title = part.title();
        let (text, earned) = match wrong {
            None => (format!("{} {title}: carries what it should.", part.id), 1.0),
            Some((label, is, should)) => (
                format!(
                    "{} {title}: {is:.1} A at “{label}”, where {should:.1} A belong.",
                    part.id
                ),
                0.0,
            ),
        };
        out.push(Detail::new(None, text, earned, 1.0));
    }
    out
}

fn protection(
    circuit: &Arc<Circuit>,
    works: f64,
    own: &dyn Fn(&str) -> bool,
) -> Result<Vec<Detail>, BenchError> {
    let mut burns = unprotected_wires(circuit)?;
    let wires = circuit.doc.wires.iter().enumerate();
    let given: Vec<String> = wires
        .filter(|(_, w)| !own(&w.id))
        .map(|(n, _)| format!("wires[{n}]"))
        .collect();
    burns.retain(|p| !given.contains(&p.path));
    if works == 0.0 {
        let text = "nothing that was wanted works yet.".to_owned();
        return Ok(vec![Detail::new(None, text, 0.0, 1.0)]);
    }
    Ok(match burns.is_empty() {
        true => {
            let text = "with the far end of each wire on metal, its fuse opens first.".to_owned();
            vec![Detail::new(None, text, works, 1.0)]
        }
        false => burns
            .into_iter()
            .map(|p| {
                Detail::new(
                    None,
                    format!("{}.", p.message.trim_end_matches('.')),
                    0.0,
                    1.0,
                )
            })
            .collect(),
    })
}

/// The most that each wire loses in any state.
fn drops(
    lesson: &Lesson,
    both: &[Beside<'_>],
    works: f64,
    own: &dyn Fn(&str) -> bool,
) -> Vec<Detail> {
    let Some((_, [first, _])) = both.first() else {
        return Vec::new();
    };
    let wires = first
        .circuit
        .conductors
        .iter()
        .filter(|c| c.kind == ConductorKind::Wire && own(&c.id));
    let limit = lesson.limits.wire_v;
    let mut details: Vec<Detail> = wires
        .filter_map(|c| {
            let carrying = both.iter().filter(|(_, [built, _])| {
                through_node(built, c.a).min(through_node(built, c.b)) >= CARRIES_A
            });
            let lost = carrying.map(|(wanted, [built, _])| {
                ((mid(built, c.a) - mid(built, c.b)).abs(), &wanted.label)
            });
            let (volts, label) = lost.max_by(|a, b| a.0.total_cmp(&b.0))?;
            let (text, earned) = match volts <= limit {
                true => (format!("{}: {volts:.2} V.", c.id), works),
                false => (
                    format!(
                        "{}: {volts:.2} V at “{label}”; {limit:.2} V are enough.",
                        c.id
                    ),
                    0.0,
                ),
            };
            Some(Detail::new(None, text, earned, 1.0))
        })
        .collect();
    if details.is_empty() {
        let text = "no wire carries anything yet.".to_owned();
        details.push(Detail::new(None, text, 0.0, 1.0));
    }
    details
}

/// Each wire of the list between its ends, with its colour and number, as thick at least.
fn listed(list: &[WireDoc], wires: &[WireDoc]) -> Vec<Detail> {
    let each = list.iter().map(|wanted| {
        let ends = |w: &&WireDoc| {
            (&w.from, &w.to) == (&wanted.from, &wanted.to)
                || (&w.to, &w.from) == (&wanted.from, &wanted.to)
        };
        let title = format!("{} {} to {}", wanted.id, wanted.from, wanted.to);
        let Some(found) = wires.iter().find(ends) else {
            return Detail::new(None, format!("{title}: is not there."), 0.0, 1.0);
        };
        let colour = found.color == wanted.color;
        let area = |w: &WireDoc| w.area_mm2.or(w.awg.map(cimento_model::units::awg_area_mm2));
        let thick = match (area(found), area(wanted)) {
            (Some(is), Some(should)) => is >= should - 1e-9,
            (_, None) => true,
            (None, Some(_)) => false,
        };
        let kept = [
            (colour, "another colour"),
            (thick, "thinner"),
            (found.id == wanted.id, "another number"),
        ];
        let lost: Vec<&str> = kept
            .iter()
            .filter(|(is, _)| !is)
            .map(|(_, what)| *what)
            .collect();
        let text = match lost.is_empty() {
            true => format!("{title}: as listed."),
            false => format!("{title}: {} than listed.", lost.join(", ")),
        };
        let earned = (kept.len() - lost.len()) as f64 / kept.len() as f64;
        Detail::new(None, text, earned, 1.0)
    });
    each.collect()
}
