//! What is noticed from the seat comes from what a machine does: how fast it cranks beside a sound one, what stays on
//! with everything off, what a battery does that stands.

use cimento_bench::complaint;
use cimento_bench::instruments::Function;
use cimento_model::state::OperatingState;
use cimento_parts::read_circuit;

use crate::common::{demo, number, symptom, tug, with};

#[test]
fn a_machine_that_is_cranked_slower_by_a_sixth_is_heard() {
    let tug = tug();
    let usual = "Cranks at 207 rpm.";
    assert!(symptom(&tug, &[]).starts_with(usual));
    // 5 mΩ in the starter cable cost a tenth of the speed, 12 mΩ a sixth.
    let little = symptom(&tug, &["W20:high_resistance=0.005"]);
    assert!(little.starts_with("Cranks at 1"), "{little}");
    let more = symptom(&tug, &["W20:high_resistance=0.012"]);
    assert!(
        more.starts_with("Cranks more slowly than usual, 1"),
        "{more}"
    );
    let much = symptom(&tug, &["W20:high_resistance=0.05"]);
    assert!(much.starts_with("Cranks slowly"), "{much}");
}

#[test]
fn whoever_knows_the_machine_knows_how_it_cranks_in_the_cold() {
    let tug = tug();
    let mut bench = with(&tug, &[], &[]);
    let cold = OperatingState {
        temperature_c: -25.0,
        ..bench.state().clone()
    };
    bench.set(cold).unwrap();
    let said = complaint(&mut bench).unwrap().text;
    assert!(said.starts_with("Cranks at"), "{said}");
    let rpm = |said: &str| -> f64 {
        let words: Vec<&str> = said.split(' ').collect();
        words[2].parse().unwrap()
    };
    assert!(rpm(&said) < rpm(&symptom(&tug, &[])), "{said}");
}

#[test]
fn a_starter_cranks_unasked_by_whatever_holds_its_contact() {
    let tug = tug();
    // A welded bridge contact turns the motor without a plunger that pulls.
    for fault in ["M1:contacts_welded", "K3:contacts_welded"] {
        let said = symptom(&tug, &[fault]);
        assert!(
            said.starts_with("With everything off: cranks at 20"),
            "{fault}: {said}"
        );
        assert!(
            said.contains("battery is flat after standing overnight"),
            "{fault}: {said}"
        );
    }
    let stuck = symptom(&tug, &["S1:stuck_in_last"]);
    assert!(
        stuck.contains("Cranks at 207 rpm with the key at off already"),
        "{stuck}"
    );
    // Current that runs back through the pull-in winding is to cancel the hold-in winding's; where it finds
    // another way to ground it holds the plunger. Common practice: a starter that hangs on.
    let hangs = symptom(&tug, &["W14:short_to_ground=1"]);
    assert!(hangs.starts_with("As the key is let go: cranks"), "{hangs}");
    assert!(!symptom(&tug, &["W14:short_to_ground=20"]).contains("let go"));
}

#[test]
fn a_running_engine_that_cannot_be_switched_off_is_noticed() {
    let tug = demo("baggage-tug-ignition");
    let runs_on = "The engine runs on as the key is switched off.";
    assert!(!symptom(&tug, &[]).contains(runs_on));
    assert!(symptom(&tug, &["W4:short_to_power=0.1"]).contains(runs_on));
}

#[test]
fn a_horn_that_stays_on_is_heard_with_everything_off() {
    let loader = demo("belt-loader-starting");
    let said = symptom(&loader, &["K2:contacts_welded"]);
    assert!(
        said.starts_with("With everything off: horn sounds"),
        "{said}"
    );
}

/// A battery of 60 A·h with a load of so many ohms that no switch takes off.
fn standing(ohms: f64) -> String {
    let text = format!(
        r#"{{ "format": "cimento/circuit", "version": 1, "title": "Standing", "system_v": 12, "grounds": {{ "G1": {{ "metal": "frame" }} }},
        "parts": {{ "BAT": {{ "kind": "battery", "params": {{ "capacity_ah": 60 }} }}, "R1": {{ "kind": "resistor", "params": {{ "ohms": {ohms} }} }} }},
        "wires": [
          {{ "id": "W1", "from": "BAT.+", "to": "R1.1", "area_mm2": 1, "length_m": 1 }},
          {{ "id": "W2", "from": "R1.2", "to": "G1", "area_mm2": 1, "length_m": 1 }},
          {{ "id": "W3", "from": "BAT.-", "to": "G1", "area_mm2": 16, "length_m": 1 }} ] }}"#
    );
    symptom(&read_circuit(&text).unwrap(), &[])
}

#[test]
fn a_battery_that_stands_is_flat_after_its_capacity_over_the_current() {
    // By hand, 60 A·h: 5 A last 12 h, 1 A 60 h, 0.4 A 150 h, 0.25 A 240 h.
    for (ohms, stood) in [
        (12.5 / 5.0, "overnight"),
        (12.5, "a weekend"),
        (12.5 / 0.4, "a week"),
    ] {
        let said = standing(ohms);
        let words = format!("battery is flat after standing {stood}.");
        assert!(said.contains(&words), "{ohms} Ω: {said}");
    }
    let said = standing(12.5 / 0.25);
    assert!(!said.contains("standing"), "{said}");
}

#[test]
fn a_drain_is_found_by_the_ammeter_in_series_and_by_the_clamp() {
    let loader = demo("belt-loader-starting");
    let drains = ["K2:contacts_welded"];
    let bench = with(&loader, &drains, &[]);
    let clamped = number(&bench, Function::CLAMP_AMPS, "W1", "").abs();
    // Fuse by fuse: the meter in the place of the horn's carries all of it, in the ignition's nothing.
    let in_place_of = |fuse: &str| {
        let mut out = with(&loader, &drains, &[]);
        let state = OperatingState {
            removed: vec![fuse.to_owned()],
            ..out.state().clone()
        };
        out.set(state).unwrap();
        let (red, black) = (format!("{fuse}.1"), format!("{fuse}.2"));
        number(&out, Function::DC_AMPS, &red, &black)
    };
    let horn = in_place_of("F4");
    assert!(clamped > 1.0, "{clamped}");
    assert!(
        (horn - clamped).abs() < 0.05 * clamped,
        "{horn} and {clamped}"
    );
    assert!(in_place_of("F3").abs() < 0.001);
}

#[test]
fn what_two_levers_do_only_together_is_seen() {
    // Two lamps on one weak ground: each by itself is bright, both together are dim.
    let text = r#"{ "format": "cimento/circuit", "version": 1, "title": "Tail and stop", "system_v": 12, "grounds": { "G1": { "metal": "frame" } },
        "parts": {
          "BAT": { "kind": "battery" },
          "S1": { "kind": "switch", "control": "lights" }, "S2": { "kind": "switch", "control": "brake" },
          "L1": { "kind": "lamp", "name": "tail lamp", "params": { "rated_w": 10 } },
          "L2": { "kind": "lamp", "name": "stop lamp", "params": { "rated_w": 21 } } },
        "splices": { "SP1": {} },
        "wires": [
          { "id": "W1", "from": "BAT.+", "to": "S1.1", "area_mm2": 1, "length_m": 1 },
          { "id": "W2", "from": "BAT.+", "to": "S2.1", "area_mm2": 1, "length_m": 1 },
          { "id": "W3", "from": "S1.2", "to": "L1.1", "area_mm2": 1, "length_m": 1 },
          { "id": "W4", "from": "S2.2", "to": "L2.1", "area_mm2": 1, "length_m": 1 },
          { "id": "W5", "from": "L1.2", "to": "SP1", "area_mm2": 1, "length_m": 1 },
          { "id": "W6", "from": "L2.2", "to": "SP1", "area_mm2": 1, "length_m": 1 },
          { "id": "W7", "from": "SP1", "to": "G1", "area_mm2": 1, "length_m": 1 },
          { "id": "W8", "from": "BAT.-", "to": "G1", "area_mm2": 16, "length_m": 1 } ] }"#;
    let lamps = read_circuit(text).unwrap();
    let said = symptom(&lamps, &["W7:high_resistance=2.8"]);
    assert!(
        said.contains("Brake: tail lamp dark, stop lamp bright"),
        "{said}"
    );
    assert!(said.contains("All at once: tail lamp dim"), "{said}");
    assert!(!symptom(&lamps, &[]).contains("All at once"));
}
