//! What each instrument shows and does, on demo circuits.

use cimento_parts::read_circuit;
use std::sync::Arc;

use crate::common;

use cimento_bench::Bench;
use cimento_bench::instruments::{Function, Meter, Range, take, take_with};
use cimento_model::circuit::Circuit;
use cimento_model::part::NoticeKind;
use cimento_model::state::OperatingState;
use common::{number, shown, volts, with};

/// A 12 V divider of two resistors and a diode.
fn divider(ohms: f64) -> Arc<Circuit> {
    let text = format!(
        r#"{{"format":"cimento/circuit","version":1,"title":"t","system_v":12,
        "parts":{{"BAT":{{"kind":"battery","params":{{"rest_v":12}}}},
                  "R1":{{"kind":"resistor","params":{{"ohms":{ohms}}}}},
                  "R2":{{"kind":"resistor","params":{{"ohms":{ohms}}}}},
                  "S1":{{"kind":"switch"}},"D1":{{"kind":"diode"}},"R3":{{"kind":"resistor","params":{{"ohms":1000}}}}}},
        "wires":[{{"id":"W1","from":"BAT.+","to":"S1.1","ohms":0}},{{"id":"W4","from":"S1.2","to":"R1.1","ohms":0}},
                 {{"id":"W2","from":"R1.2","to":"R2.1","ohms":0}},
                 {{"id":"W3","from":"R2.2","to":"BAT.-","ohms":0}},
                 {{"id":"W5","from":"D1.A","to":"R3.1","ohms":0}},{{"id":"W6","from":"R3.2","to":"BAT.-","ohms":0}}]}}"#
    );
    read_circuit(&text).unwrap()
}

/// The model of each meter: 10 MΩ, and 20 kΩ per volt of the range. The loaded divider is worked out
/// by hand.
#[test]
fn meters_load_what_they_touch() {
    let circuit = divider(1e6);
    let bench = with(&circuit, &[], &[("switch", "on")]);
    // Half of 12 V behind 0.5 MΩ, with the meter's 10 MΩ: 6·10/(10 + 0.5) = 5.714 V.
    let digital = volts(&bench, "R2.1", "BAT.-");
    assert!((digital - 5.714).abs() < 0.002, "{digital}");
    // In the 15 V range 300 kΩ: 6·0.3/(0.3 + 0.5) = 2.25 V; in the 3 V range less, and off the end.
    let take = |range| {
        let r = take(
            &bench,
            Function::ANALOG_VOLTS,
            Some(Range(range)),
            Some("R2.1"),
            Some("BAT.-"),
        );
        r.unwrap().shown.value.number()
    };
    assert!((take(15.0) - 2.25).abs() < 0.1, "{}", take(15.0));
    assert!((take(60.0) - 6.0 * 1.2 / 1.7).abs() < 0.4, "{}", take(60.0));
}

/// Common practice: the LED lamp lights through resistance that a filament would not.
#[test]
fn lamps_tell_different_things() {
    let circuit = divider(1000.0);
    let bench = with(&circuit, &[], &[("switch", "on")]);
    assert_eq!(
        shown(&bench, Function::TEST_LAMP, "R2.1", "BAT.-").text,
        "off"
    );
    assert_ne!(
        shown(&bench, Function::LED_LAMP, "R2.1", "BAT.-").text,
        "off"
    );
    assert_eq!(
        shown(&bench, Function::TEST_LAMP, "BAT.+", "BAT.-").text,
        "bright"
    );
    assert_eq!(
        shown(&bench, Function::LED_LAMP, "BAT.+", "BAT.-").text,
        "bright"
    );
}

#[test]
fn the_diode_test_shows_the_junction_one_way() {
    let circuit = divider(1000.0);
    let bench = with(&circuit, &[], &[]);
    let forward = number(&bench, Function::DIODE_TEST, "D1.A", "D1.K");
    assert!((0.4..0.8).contains(&forward), "{forward} V");
    assert!(number(&bench, Function::DIODE_TEST, "D1.K", "D1.A").is_infinite());
}

/// Through the meter in place of a fuse flows what the clamp reads; across a source its fuse goes.
#[test]
fn the_current_input_has_a_fuse() {
    let circuit = common::demo("sweeper-lamps");
    let clamp = number(
        &with(&circuit, &[], &[("work lamps", "on")]),
        Function::CLAMP_AMPS,
        "W3",
        "",
    );
    let mut bench = with(&circuit, &[], &[("work lamps", "on")]);
    let mut state = bench.state().clone();
    state.take_apart(&circuit, "F1");
    bench.set(state).unwrap();
    let meter = Meter::default();
    let amps = |meter: &Meter, red, black| {
        take_with(
            meter,
            &bench,
            Function::DC_AMPS,
            None,
            Some(red),
            Some(black),
        )
        .unwrap()
    };
    let through = amps(&meter, "F1.1", "F1.2");
    assert!(!through.blew && (through.shown.value.number() - clamp).abs() < 0.1);
    assert!(amps(&meter, "BAT.+", "BAT.-").blew);
    let blown = Meter {
        fuse_blown: true,
        ..meter
    };
    let dead = amps(&blown, "F1.1", "F1.2");
    assert!(!dead.blew && dead.shown.value.number() == 0.0);
}

/// The memory catches the dip of the inrush, which has passed before one can look.
#[test]
fn min_max_catches_the_inrush() {
    let circuit = common::demo("baggage-tug-starting");
    let bench = with(&circuit, &[], &[("key", "start"), ("clutch", "down")]);
    let swing = shown(&bench, Function::MIN_MAX, "BAT.+", "BAT.-")
        .wanders
        .expect("it dips");
    let steady = volts(&bench, "BAT.+", "BAT.-");
    assert!(
        swing.least < steady - 1.0 && swing.most >= steady - 0.01,
        "{swing:?} beside {steady}"
    );
}

#[test]
fn zeroed_leads_are_taken_off() {
    let circuit = common::demo("fire-pump-charging");
    let bench = with(&circuit, &[], &[]);
    let read = |meter: &Meter| {
        let r = take_with(
            meter,
            &bench,
            Function::OHMS,
            None,
            Some("A1.1"),
            Some("A1.2"),
        )
        .unwrap();
        r.shown.value.number()
    };
    let zeroed = Meter {
        zeroed: true,
        ..Meter::default()
    };
    assert!((read(&Meter::default()) - read(&zeroed) - 0.2).abs() < 0.11);
}

/// Every meter has a small error of its own: always the same, never outside its accuracy.
#[test]
fn a_meter_has_its_own_error() {
    let circuit = common::demo("baggage-tug-starting");
    let bench = with(&circuit, &[], &[]);
    let read = |seed| {
        let meter = Meter {
            seed,
            ..Meter::default()
        };
        let r = take_with(
            &meter,
            &bench,
            Function::DC_VOLTS,
            None,
            Some("BAT.+"),
            Some("BAT.-"),
        );
        r.unwrap().shown.value.number()
    };
    let exact = read(0);
    let all: Vec<f64> = (1..200).map(read).collect();
    assert!(
        all.iter()
            .all(|v| (v - exact).abs() <= 0.005 * exact + 0.02 + 0.005)
    );
    assert!(all.iter().any(|v| (v - exact).abs() > 0.02), "they differ");
    assert_eq!(read(7), read(7));
}

/// A needle follows what a digital meter averages: the pulses of an injector at a slow crank.
#[test]
fn a_needle_follows_slow_swings() {
    let circuit = common::demo("ground-power-unit-injectors");
    let mut bench = Bench::new(&circuit, &[]).unwrap();
    let mut state = OperatingState::at_rest(&circuit);
    state.set_control("key", "run".to_owned());
    state.set_control("engine", "idle".to_owned());
    state.engine_rpm = 420.0;
    bench.set(state).unwrap();
    let needle = shown(&bench, Function::ANALOG_VOLTS, "U1.5", "BAT.-");
    let swing = needle.wanders.expect("3.5 Hz is slow enough");
    assert!(swing.least < 1.0 && swing.most > 11.0, "{swing:?}");
    assert!(
        shown(&bench, Function::DC_VOLTS, "U1.5", "BAT.-")
            .wanders
            .is_none()
    );
}

/// A clip round a plug lead of a four-stroke engine counts a spark in two turns, round the coil's own lead
/// four; told wrongly it shows half or twice the speed; common practice.
#[test]
fn a_tachometer_counts_sparks() {
    let circuit = common::demo("baggage-tug-ignition");
    let controls = [("key", "run"), ("engine", "idle")];
    let rpm = |faults: &[&str], lead: &str, per_turn: f64| {
        let bench = common::with(&circuit, faults, &controls);
        let set = Some(Range(per_turn));
        let taken = take(&bench, Function::TACHOMETER, set, Some(lead), None).unwrap();
        assert_eq!(taken.shown.unit, "rpm");
        taken.shown.value.number()
    };
    assert!((rpm(&[], "W13", 0.5) - 900.0).abs() < 20.0);
    assert!((rpm(&[], "W12", 2.0) - 900.0).abs() < 20.0);
    assert!((rpm(&[], "W13", 1.0) - 450.0).abs() < 20.0);
    assert!(rpm(&["W13:open"], "W13", 0.5) < 1.0);
    let bench = common::with(&circuit, &[], &controls);
    let wrong = take(&bench, Function::TACHOMETER, None, Some("W4"), None);
    let refused = wrong.unwrap_err().to_string();
    assert!(refused.contains("W4 is none"), "{refused}");
}

/// The adapter holds what a meter can't follow: the peak of a sine is √2 of its root mean square, and at
/// the breaker the coil answers with hundreds of volts; common practice.
#[test]
fn an_adapter_holds_the_peak() {
    let twin = common::demo("twin-fire-pump-ignition");
    let pulled = [("rope", "pulled"), ("stop key", "on")];
    let bench = common::with(&twin, &["W10:open"], &pulled);
    let peak = common::number(&bench, Function::PEAK_VOLTS, "L1.1", "L1.2");
    let rms = 230.0 * bench.rpm() / 1000.0;
    let sine = rms * std::f64::consts::SQRT_2;
    assert!((peak / sine - 1.0).abs() < 0.02, "{peak} V, {sine} V");
    let tug = common::demo("baggage-tug-ignition");
    let bench = common::with(&tug, &[], &[("key", "run"), ("engine", "idle")]);
    let breaker = common::number(&bench, Function::PEAK_VOLTS, "T1.1", "BAT.-");
    assert!((100.0..450.0).contains(&breaker), "{breaker} V");
    // Where nothing turns it is a voltmeter without a sign.
    let still = common::with(&tug, &[], &[]);
    let rest = common::number(&still, Function::PEAK_VOLTS, "BAT.-", "BAT.+");
    assert!((12.4..12.8).contains(&rest), "{rest} V");
}

/// Shorting a cylinder that works slows an engine of four by about a tenth, and one that does not is not
/// missed; common practice.
#[test]
fn a_cylinder_that_does_no_work_is_not_missed() {
    let circuit = common::demo("baggage-tug-ignition");
    let drop = |faults: &[&str], lead: &str, engine: &str| {
        let bench = common::with(&circuit, faults, &[("key", "run"), ("engine", engine)]);
        let taken = take(&bench, Function::CYLINDER_BALANCE, None, Some(lead), None).unwrap();
        taken.shown.value.number()
    };
    assert_eq!(drop(&[], "W13", "idle"), 90.0);
    assert_eq!(drop(&["W13:open"], "W13", "idle"), 0.0);
    assert!(drop(&["W13:open"], "W14", "idle") > 90.0);
    assert_eq!(drop(&[], "W13", "stopped"), 0.0);
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    let wrong = take(&bench, Function::CYLINDER_BALANCE, None, Some("W12"), None);
    let refused = wrong.unwrap_err().to_string();
    assert!(refused.contains("W12 leads to no plug"), "{refused}");
}

/// The mark stands at the pointer. A gap that closes up by 0.2 mm makes eight degrees more dwell and fires
/// eight degrees late, which one hears; the lamp on the lead of another cylinder lights the far side. Source:
/// a thousandth of an inch is a degree of dwell, a degree of dwell a degree of timing; common practice.
#[test]
fn a_timing_lamp_shows_what_a_worn_gap_does() {
    let circuit = common::demo("baggage-tug-ignition");
    let idle = [("key", "run"), ("engine", "idle")];
    let lamp = |faults: &[&str], lead: &str| {
        let bench = common::with(&circuit, faults, &idle);
        let taken = take(&bench, Function::TIMING_LAMP, None, Some(lead), None);
        taken.unwrap().shown.text
    };
    assert_eq!(lamp(&[], "W13"), "0");
    assert_eq!(lamp(&["B1:gap_small=0.2"], "W13"), "8");
    assert_eq!(lamp(&["B1:gap_small=0.3"], "W13"), "4");
    assert_eq!(lamp(&[], "W14"), "180");
    assert_eq!(lamp(&[], "W15"), "180");
    assert_eq!(lamp(&["B1:gap_small=0.2"], "W14"), "188");
    assert_eq!(lamp(&["W13:open"], "W13"), "no flash");
    let dwell = |faults: &[&str]| {
        let bench = common::with(&circuit, faults, &idle);
        100.0 - common::number(&bench, Function::DUTY, "T1.1", "BAT.-")
    };
    // Eight of the 90 degrees between two openings.
    let more = dwell(&["B1:gap_small=0.2"]) - dwell(&[]);
    assert!((more - 100.0 * 7.87 / 90.0).abs() < 0.5, "{more} %");
    let heard = |fault: &str, controls: &[(&str, &str)]| {
        let bench = common::with(&circuit, &[fault], controls);
        let all = bench.notices();
        let firing = all.iter().find(|n| n.kind == NoticeKind::Firing);
        firing.unwrap().text.clone()
    };
    assert_eq!(
        heard("B1:gap_small=0.2", &idle),
        "the engine runs evenly, but weakly"
    );
    assert_eq!(heard("B1:gap_small=0.3", &idle), "the engine runs evenly");
    // Under the starter a degree takes longer: it fires all the same, at any gap that is modelled.
    let start = [("key", "start")];
    for gap in ["0.1", "0.2", "0.35"] {
        let fault = format!("B1:gap_small={gap}");
        assert_eq!(heard(&fault, &start), "the engine fires", "{gap} mm");
    }
}

/// A pulse of half a volt to eleven, seven and a half times a second while the engine is cranked, makes an LED
/// lamp flicker; a filament and a digital meter show its mean (common practice).
#[test]
fn an_led_lamp_flickers_where_a_filament_glows() {
    let circuit = common::demo("ground-power-unit-twin-coils");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    // The crank sensor pulls its output down thirty times a second, against 5 V.
    assert_eq!(
        shown(&bench, Function::LED_LAMP, "BAT.+", "L1.2").text,
        "flickers"
    );
    let filament = shown(&bench, Function::TEST_LAMP, "BAT.+", "L1.2");
    assert!(filament.wanders.is_none(), "{filament:?}");
    let digital = shown(&bench, Function::DC_VOLTS, "L1.2", "BAT.-");
    assert!(digital.wanders.is_none(), "{digital:?}");
    // At 2500 rpm it is too quick for the eye.
    let fast = common::with(&circuit, &[], &[("key", "run"), ("engine", "fast")]);
    let led = shown(&fast, Function::LED_LAMP, "BAT.+", "L1.2");
    assert!(led.wanders.is_none(), "{led:?}");
}
