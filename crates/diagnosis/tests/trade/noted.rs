//! Readings of a machine that nobody knows the fault of.

use cimento_bench::instruments::Function;
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::suspects::{Noted, candidates, what_is_left};
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;

use super::common::{number, tug, with};

/// Nobody's battery is the drawn one's: every reading is off by so many volts.
const OFF_V: f64 = 0.12;
/// Where one goes to when a machine does not crank.
const WAY: [&str; 6] = ["BAT.+", "M1.50", "K3.86", "S2.2", "C14.1m", "C12.4f"];

fn start() -> OperatingState {
    let mut state = OperatingState::at_rest(&tug());
    state.set_control("key", "start".to_owned());
    state.set_control("clutch", "down".to_owned());
    state
}

fn noted(fault: &str) -> Vec<Noted> {
    let machine = with(&tug(), &[fault], &[("key", "start"), ("clutch", "down")]);
    let note = |red: &&str| Noted {
        state: start(),
        function: Function::DC_VOLTS,
        red: (*red).to_owned(),
        black: Some("BAT.-".to_owned()),
        shows: Quantity::Number(number(&machine, Function::DC_VOLTS, red, "BAT.-") - OFF_V),
    };
    WAY.iter().map(note).collect()
}

#[test]
fn an_open_wire_is_found_by_readings_alone() {
    let circuit = tug();
    let left = what_is_left(&circuit, &Limits::default(), &noted("W8:open")).unwrap();
    let w8 = circuit.place("W8").unwrap();
    assert!(left.iter().all(|l| l.faults.contains_key(&w8)));
    assert!(
        left[0].may_be_sound || left[0].faults.len() > 20,
        "a battery says little"
    );
    let last = left.last().unwrap();
    assert!(!last.may_be_sound);
    assert!(last.faults[&w8].contains(&"open"));
    assert!(last.faults.len() <= 4, "{:?}", last.faults);
    let counts: Vec<usize> = left.iter().map(|l| l.faults.len()).collect();
    assert!(counts.is_sorted_by(|a, b| a >= b), "{counts:?}");
}

#[test]
fn a_sound_machine_may_be_sound() {
    let circuit = tug();
    let mut notes = noted("W8:open");
    let sound = with(&circuit, &[], &[("key", "start"), ("clutch", "down")]);
    for note in &mut notes {
        let v = number(&sound, Function::DC_VOLTS, &note.red, "BAT.-");
        note.shows = Quantity::Number(v - OFF_V);
    }
    let left = what_is_left(&circuit, &Limits::default(), &notes).unwrap();
    assert!(left.last().unwrap().may_be_sound);
    let w8 = circuit.place("W8").unwrap();
    let ways = left.last().unwrap().faults.get(&w8);
    assert!(!ways.is_some_and(|w| w.contains(&"open")));
}

/// The fault that is there is left, whatever it is.
#[test]
fn what_is_there_is_never_ruled_out() {
    let circuit = tug();
    for candidate in candidates(&circuit, None).iter().step_by(7) {
        let faults = &candidate.grid[candidate.grid.len() / 2];
        let text = faults[0].doc(&circuit);
        let mut machine = with(&circuit, &[], &[]).beside(faults).unwrap();
        machine.set(start()).unwrap();
        let note = |red: &&str| Noted {
            state: start(),
            function: Function::DC_VOLTS,
            red: (*red).to_owned(),
            black: Some("BAT.-".to_owned()),
            shows: Quantity::Number(number(&machine, Function::DC_VOLTS, red, "BAT.-")),
        };
        let notes: Vec<Noted> = WAY.iter().map(note).collect();
        let left = what_is_left(&circuit, &Limits::default(), &notes).unwrap();
        let last = left.last().unwrap();
        for place in &candidate.places {
            let ways = last.faults.get(place);
            assert!(
                ways.is_some_and(|w| w.contains(&candidate.mode)),
                "{text:?}"
            );
        }
    }
}
