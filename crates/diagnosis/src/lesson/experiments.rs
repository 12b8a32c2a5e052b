//! Experiments for trying the tools: places of a healthy machine where an instrument shows less than
//! it seems to. They are searched for with the instruments themselves, so what they promise is so.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_bench::instruments::{Function, Shown, take};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;

/// Volts that pass for a full supply, as a share of it.
const FULL: f64 = 0.8;
/// From here on a beep is more than a wire's, in ohms; common practice.
const MORE_THAN_WIRE: f64 = 1.0;

/// Something to try.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Experiment {
    pub title: String,
    /// What to do, in order.
    pub steps: Vec<String>,
    /// What it teaches.
    pub teaches: String,
}

/// What can be tried on a circuit: a ghost voltage, a lit lamp and a beep that prove little, and what a
/// clamp sees. Those that the circuit does not have are left out.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution in one of the states.
pub fn experiments(circuit: &Arc<Circuit>) -> Result<Vec<Experiment>, BenchError> {
    let mut out = Vec::new();
    let mut bench = Bench::new(circuit, &[])?;
    for (states, seek) in [
        (apart(circuit), ghost as Seek),
        (apart(circuit), faint as Seek),
        (dead(circuit), beep as Seek),
        (worked(circuit), clamped as Seek),
    ] {
        let mut found = None;
        for (doing, state) in states {
            bench.set(state)?;
            if let Some((then, teaches)) = seek(&bench)? {
                let mut steps = doing;
                steps.extend(then.1);
                found = Some(Experiment {
                    title: then.0,
                    steps,
                    teaches,
                });
                break;
            }
        }
        out.extend(found);
    }
    Ok(out)
}

/// Title and steps, and what they teach.
type Found = Option<((String, Vec<String>), String)>;
type Seek = fn(&Bench) -> Result<Found, BenchError>;
/// What is done to come to a state.
type States = Vec<(Vec<String>, OperatingState)>;

fn shown(bench: &Bench, function: Function, at: Leads<'_>) -> Result<Shown, BenchError> {
    match take(bench, function, None, Some(at.0), Some(at.1)) {
        Ok(reading) => Ok(reading.shown),
        Err(other) => Err(other.into()),
    }
}

/// Where the red and the black lead are.
type Leads<'c> = (&'c str, &'c str);

/// Every point against battery negative, then battery positive against every point.
fn leads<'c>(bench: &'c Bench) -> Vec<Leads<'c>> {
    let circuit = &bench.circuit;
    let end = |node: usize| circuit.point_at(node).map(|p| p.id.as_str());
    let (Some(negative), Some(positive)) = (end(0), end(circuit.positive())) else {
        return Vec::new();
    };
    let points = circuit.test_points.iter().filter(|p| p.node != 0);
    let points = points.map(|p| p.id.as_str());
    let to_negative = points.clone().map(|p| (p, negative));
    to_negative.chain(points.map(|p| (positive, p))).collect()
}

fn positions(state: &OperatingState, circuit: &Circuit) -> Vec<String> {
    let rest = OperatingState::at_rest(circuit);
    let controls = circuit.controls().into_iter();
    let moved = controls.filter(|c| state.control(&c.name) != rest.control(&c.name));
    moved
        .map(|c| format!("Put the {} to {}.", c.name, state.control(&c.name)))
        .collect()
}

/// The states of a trial.
fn worked(circuit: &Circuit) -> States {
    let trials = OperatingState::trial(circuit).into_iter();
    let standing = trials.filter(|t| t.state.engine == cimento_model::state::Engine::Stopped);
    standing
        .map(|t| (positions(&t.state, circuit), t.state))
        .collect()
}

/// At rest, and those of a trial with one thing taken apart.
fn apart(circuit: &Circuit) -> States {
    let rest = (Vec::new(), OperatingState::at_rest(circuit));
    let mut out = vec![rest];
    for (doing, state) in worked(circuit) {
        for what in circuit.comes_apart() {
            let mut state = state.clone();
            state.take_apart(circuit, &what);
            let mut doing = doing.clone();
            doing.insert(0, format!("Take {what} apart."));
            out.push((doing, state));
        }
    }
    out
}

/// At rest with everything pulled that carries a fuse, so that nothing feeds the circuit.
fn dead(circuit: &Circuit) -> States {
    let mut state = OperatingState::at_rest(circuit);
    let fuses: Vec<String> = circuit
        .parts
        .iter()
        .filter(|p| p.kind.is_fuse() && p.kind.plugs_in())
        .map(|p| p.id.clone())
        .collect();
    for fuse in &fuses {
        state.take_apart(circuit, fuse);
    }
    vec![(vec![format!("Pull {}.", fuses.join(", "))], state)]
}

/// Full volts on a meter where a filament lamp stays dark.
fn ghost(bench: &Bench) -> Result<Found, BenchError> {
    for at in leads(bench) {
        let volts = shown(bench, Function::DC_VOLTS, at)?;
        let full = volts.value.number() >= FULL * bench.circuit.doc.system_v;
        if full && shown(bench, Function::TEST_LAMP, at)?.value.number() == 0.0 {
            let (red, black) = at;
            let read = volts.value.text(Function::DC_VOLTS.unit());
            let steps = vec![
                format!("Read DC volts from {red} to {black}: {read}."),
                "Put the test lamp on the same two points: it stays dark.".to_owned(),
            ];
            let teaches = "The meter takes next to nothing, so volts come to it through any resistance. The lamp asks for current, and there is none to be had.";
            return Ok(Some((
                ("A voltage that carries nothing".to_owned(), steps),
                teaches.to_owned(),
            )));
        }
    }
    Ok(None)
}

/// An LED lamp that lights where a filament lamp hardly does.
fn faint(bench: &Bench) -> Result<Found, BenchError> {
    for at in leads(bench) {
        let led = shown(bench, Function::LED_LAMP, at)?.value.number();
        if led == 2.0 && shown(bench, Function::TEST_LAMP, at)?.value.number() < 2.0 {
            let (red, black) = at;
            let lamp = shown(bench, Function::TEST_LAMP, at)?;
            let steps = vec![
                format!("Put the LED lamp between {red} and {black}: it is bright."),
                format!(
                    "Put the filament test lamp there: it is {}.",
                    lamp.value.text(Function::TEST_LAMP.unit())
                ),
            ];
            let teaches = "An LED lamp lights with a few milliamperes and shines through a coil, a lamp or a bad contact. That it lights says that there is a way, not that the way can carry a load.";
            return Ok(Some((
                ("A lamp that lights too easily".to_owned(), steps),
                teaches.to_owned(),
            )));
        }
    }
    Ok(None)
}

/// A beep through a whole load.
fn beep(bench: &Bench) -> Result<Found, BenchError> {
    for at in leads(bench) {
        let tested = shown(bench, Function::CONTINUITY, at)?;
        let ohms = tested.value.number();
        if tested.beeps && ohms > MORE_THAN_WIRE {
            let (red, black) = at;
            let steps = vec![
                format!("Test continuity from {red} to {black}: it beeps."),
                format!(
                    "Read the ohms: {}.",
                    tested.value.text(Function::OHMS.unit())
                ),
            ];
            let teaches = "It beeps up to some tens of ohms, so it beeps through a winding or a cold filament, and through one last strand. A beep says that there is some way; only volts under load say that it is good.";
            return Ok(Some((
                ("A beep through a load".to_owned(), steps),
                teaches.to_owned(),
            )));
        }
    }
    Ok(None)
}

/// The clamp on the wire that carries most.
fn clamped(bench: &Bench) -> Result<Found, BenchError> {
    let mut most: Option<(f64, &str)> = None;
    for wire in &bench.circuit.doc.wires {
        let reading = take(bench, Function::CLAMP_AMPS, None, Some(&wire.id), None);
        let amps = reading.map_or(0.0, |r| r.shown.value.number());
        if most.is_none_or(|(m, _)| amps > m) {
            most = Some((amps, &wire.id));
        }
    }
    let Some((amps, wire)) = most.filter(|(amps, _)| *amps > 1.0) else {
        return Ok(None);
    };
    let steps = vec![format!("Put the clamp round {wire}: {amps:.1} A.")];
    let teaches = "The clamp opens nothing and touches nothing: it is the meter for large currents. In series with a source the meter's own fuse goes.";
    Ok(Some((
        ("Current without opening the circuit".to_owned(), steps),
        teaches.to_owned(),
    )))
}
