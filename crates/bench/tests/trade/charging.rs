//! Charging: facts of the trade read from the demo circuits.

use crate::common;
use cimento_parts::read_circuit;

use cimento_bench::Bench;
use cimento_bench::instruments::{Acquire, Attenuation, Function, Probe, Scope, Trace, capture};
use cimento_model::state::OperatingState;
use common::{number, symptom, volts, with};

const FAST: &[(&str, &str)] = &[("key", "run"), ("engine", "fast")];
const FAST_LOADED: &[(&str, &str)] = &[("key", "run"), ("engine", "fast"), ("work lamps", "on")];

/// Common practice: 13.5 V to 14.8 V at the battery at fast idle, falling about 10 mV/K.
#[test]
fn an_alternator_holds_its_set_point() {
    let circuit = common::demo("baggage-tug-charging");
    let at = |celsius: f64| {
        let mut bench = with(&circuit, &[], FAST);
        let state = OperatingState {
            temperature_c: celsius,
            ..bench.state().clone()
        };
        bench.set(state).unwrap();
        volts(&bench, "BAT.+", "BAT.-")
    };
    assert!((13.5..=14.8).contains(&at(20.0)), "{} V", at(20.0));
    let per_kelvin = (at(0.0) - at(40.0)) / 40.0;
    assert!((0.009..=0.011).contains(&per_kelvin), "{per_kelvin} V/K");
    // The lamp is lit with the key on and dark when it charges.
    let text = symptom(&circuit, &[]);
    assert!(
        text.contains("Charge lamp bright at run") && text.contains("charge lamp dark"),
        "{text}"
    );
}

/// Common practice: at most 0.3 V along the feed and 0.1 V along the ground while it charges.
#[test]
fn a_healthy_charging_circuit_loses_little() {
    let circuit = common::demo("baggage-tug-charging");
    let bench = with(&circuit, &[], FAST_LOADED);
    assert!(volts(&bench, "A1.B+", "BAT.+") <= 0.3);
    assert!(volts(&bench, "A1.31", "BAT.-").abs() <= 0.1);
}

/// Common practice: AC ripple under 0.5 V, of a sound machine too little to be counted; with one diode down several
/// times as much, and its beat is that of the phases: pairs of poles times the turns of the rotor.
#[test]
fn a_lost_diode_shows_as_ripple() {
    let circuit = common::demo("baggage-tug-charging");
    let ripple = |faults: &[&str]| {
        let bench = with(&circuit, faults, FAST_LOADED);
        let at = |f| number(&bench, f, "BAT.+", "BAT.-");
        (at(Function::AC_VOLTS), at(Function::HERTZ))
    };
    let (sound, sound_hz) = ripple(&[]);
    assert!(sound < 0.5, "{sound} V");
    assert_eq!(sound_hz, 0.0);
    for mode in ["A1:diode_open", "A1:diode_shorted"] {
        let (volts, hz) = ripple(&[mode]);
        assert!(volts > 3.0 * sound, "{mode}: {volts} V beside {sound} V");
        assert!(
            (hz - 6.0 * 2500.0 * 2.5 / 60.0).abs() < 1.0,
            "{mode}: {hz} Hz"
        );
    }
}

/// The same on a screen: a sound machine draws a line, and with a diode down there is a gap once in each turn of the
/// phases. Its size is what a meter on AC shows.
#[test]
fn the_scope_shows_the_ripple_of_the_bridge() {
    let circuit = common::demo("baggage-tug-charging");
    let seen = |faults: &[&str]| {
        let bench = with(&circuit, faults, FAST_LOADED);
        let scope = Scope {
            channels: vec![Probe::Leads {
                red: "BAT.+".to_owned(),
                black: "BAT.-".to_owned(),
            }],
            sweep_s: 0.02,
            level: None,
            falling: false,
            attenuation: Attenuation::Ten,
            acquire: Acquire::Peak,
        };
        let Trace {
            features, columns, ..
        } = capture(&bench, &scope).unwrap().traces.remove(0);
        let at = |f| number(&bench, f, "BAT.+", "BAT.-");
        let (meter_v, meter_hz) = (at(Function::AC_VOLTS), at(Function::HERTZ));
        // How often it dips into the lowest quarter, per second.
        let low = features.least + 0.25 * (features.most - features.least);
        let dips = columns
            .windows(2)
            .filter(|p| p[0][0] > low && p[1][0] <= low);
        let dips_hz = dips.count() as f64 / scope.sweep_s;
        let mean = volts(&bench, "BAT.+", "BAT.-");
        assert!(
            (features.mean - mean).abs() < 0.03,
            "{features:?} beside {mean} V"
        );
        let swing = features.most - features.least;
        (swing, dips_hz, meter_v, meter_hz)
    };
    let (sound, ..) = seen(&[]);
    assert!(sound < 0.1, "{sound} V");
    for mode in ["A1:diode_open", "A1:diode_shorted"] {
        let (rough, dips_hz, meter_v, base_hz) = seen(&[mode]);
        assert!(rough > 2.0 * sound, "{mode}: {rough} V beside {sound} V");
        let crest = rough / meter_v;
        assert!(
            (2.0..6.0).contains(&crest),
            "{mode}: {rough} V, {meter_v} V"
        );
        // An open diode leaves a gap once in a turn of the phases; a shorted one takes back on either side of it.
        let times = dips_hz / base_hz;
        let dips = if mode.ends_with("open") { 1.0 } else { 2.0 };
        assert!((times - dips).abs() < 0.15, "{mode}: {times}");
    }
}

/// Common practice, each with what it does to the lamp and the battery.
#[test]
fn charging_faults_show_as_they_should() {
    let circuit = common::demo("baggage-tug-charging");
    for (fault, words) in [
        ("A1:field_open", "Charge lamp dark at run"),
        ("W10:open", "Charge lamp dark at run"),
        ("A1:regulator_dead", "not charged while the engine runs"),
        ("W2:open", "charge lamp stays bright"),
        ("A1:regulator_full", "battery gasses"),
        // The sense wire lies to the regulator.
        ("W13:open", "battery gasses"),
        ("W9:short_to_ground", "Charge lamp bright"),
    ] {
        let text = symptom(&circuit, &[fault]);
        assert!(text.contains(words), "{fault}: {text}");
    }
    // Resistance in the sense wire makes the battery's voltage climb.
    let at = |faults: &[&str]| volts(&with(&circuit, faults, FAST), "BAT.+", "BAT.-");
    assert!(at(&["A1:belt_slipping"]) <= at(&[]) + 0.01);
    // A lamp burnt out keeps it dead at idle; revved, it excites itself.
    let dead = |speed| {
        let bench = with(
            &circuit,
            &["H1:burnt_out"],
            &[("key", "run"), ("engine", speed)],
        );
        volts(&bench, "BAT.+", "BAT.-") < 12.8
    };
    assert!(dead("idle") && !dead("fast"));
}

/// Common practice: charging legs well under 1 Ω, about 0.7 Ω; neither reads to the core; with the plug
/// apart the open voltage grows with speed.
#[test]
fn a_stator_can_be_told_good_from_bad() {
    let circuit = common::demo("fire-pump-charging");
    let apart = |faults: &[&str], speed: &str| {
        let mut bench = with(&circuit, faults, &[("engine", speed)]);
        let mut state = bench.state().clone();
        state.take_apart(&circuit, "C1");
        bench.set(state).unwrap();
        bench
    };
    let still = apart(&[], "stopped");
    let leg = number(&still, Function::OHMS, "A1.1", "A1.2");
    assert!((leg - 0.2 - 0.7).abs() < 0.06, "{leg} Ω with the leads");
    assert!(number(&still, Function::OHMS, "A1.1", "A1.31") > 1e6);
    let core = apart(&["A1:winding_to_core"], "stopped");
    assert!(number(&core, Function::OHMS, "A1.1", "A1.31") < 1.0);
    let ac = |speed| number(&apart(&[], speed), Function::AC_VOLTS, "A1.1", "A1.2");
    // 20 V at 1000 rpm, open.
    assert!((ac("idle") - 18.0).abs() < 0.4 && (ac("fast") - 50.0).abs() < 1.0);
    let hz = number(&apart(&[], "idle"), Function::HERTZ, "A1.1", "A1.2");
    assert!(
        (hz - 90.0).abs() < 0.2,
        "900 rpm and six pairs of poles: {hz} Hz"
    );
}

#[test]
fn a_regulator_rectifier_charges_and_regulates() {
    let circuit = common::demo("fire-pump-charging");
    let battery = |faults: &[&str]| {
        volts(
            &with(&circuit, faults, &[("engine", "fast")]),
            "BAT.+",
            "BAT.-",
        )
    };
    assert!((13.5..=14.8).contains(&battery(&[])));
    assert!(battery(&["A2:shunt_open"]) > battery(&[]) + 0.2);
    for fault in ["A2:shunt_shorted", "A1:winding_open", "W3:open", "F1:blown"] {
        assert!(battery(&[fault]) < 12.7, "{fault}");
        assert!(
            symptom(&circuit, &[fault]).contains("not charged"),
            "{fault}"
        );
    }
    // One diode open leaves one half-wave.
    let half = with(&circuit, &["A2:diode_open"], &[("engine", "idle")]);
    let whole = with(&circuit, &[], &[("engine", "idle")]);
    let amps = |b: &Bench| number(b, Function::CLAMP_AMPS, "W5", "");
    assert!(amps(&half) < 0.6 * amps(&whole) && amps(&half) > 0.3 * amps(&whole));
}

/// Common practice for flooded cells at 25 °C: 12.65 V full, 12.45 at three quarters, 12.24 at half,
/// 12.06 at a quarter, 11.9 flat. Half the cold cranking amps leave 9.6 V or more at 21 °C. SAE J537: at
/// −18 °C the cold cranking amps leave 7.2 V.
#[test]
fn a_battery_is_what_its_label_says() {
    let battery = |charge: f64, load_ohms: f64, celsius: f64| {
        let text = format!(
            r#"{{"format":"cimento/circuit","version":1,"title":"t","system_v":12,
            "parts":{{"BAT":{{"kind":"battery","params":{{"rest_v":12.65,"cca_a":600,"charge":{charge}}}}},
                      "R1":{{"kind":"resistor","params":{{"ohms":{load_ohms}}}}}}},
            "wires":[{{"id":"W1","from":"BAT.+","to":"R1.1","ohms":0}},{{"id":"W2","from":"R1.2","to":"BAT.-","ohms":0}}]}}"#
        );
        let circuit = read_circuit(&text).unwrap();
        let mut bench = Bench::new(&circuit, &[]).unwrap();
        let state = OperatingState {
            temperature_c: celsius,
            ..bench.state().clone()
        };
        bench.set(state).unwrap();
        (
            volts(&bench, "BAT.+", "BAT.-"),
            number(&bench, Function::CLAMP_AMPS, "W1", ""),
        )
    };
    for (charge, rest) in [
        (1.0, 12.65),
        (0.75, 12.45),
        (0.5, 12.24),
        (0.25, 12.06),
        (0.0, 11.9),
    ] {
        let (read, _) = battery(charge, 1e6, 25.0);
        assert!((read - rest).abs() < 0.011, "{charge}: {read} V");
    }
    // Find the load that draws the amperes by its resistance.
    let (loaded, amps) = battery(1.0, 10.6 / 300.0, 21.0);
    assert!(
        (295.0..306.0).contains(&amps) && loaded >= 9.6,
        "{loaded} V at {amps} A"
    );
    let (cold, amps) = battery(1.0, 0.01233, -18.0);
    assert!(
        (588.0..594.0).contains(&amps) && cold >= 7.2,
        "{cold} V at {amps} A"
    );
}

/// A battery runs down by what is left on, and an alternator brings it back.
#[test]
fn time_takes_charge_and_gives_it_back() {
    let circuit = common::demo("baggage-tug-charging");
    let mut bench = with(&circuit, &[], &[("work lamps", "on")]);
    let before = volts(&bench, "BAT.+", "BAT.-");
    // 110 W at 12 V for four hours is about half of 70 A·h.
    bench.pass_time(240.0).unwrap();
    let after = volts(&bench, "BAT.+", "BAT.-");
    assert!(
        before - after > 0.3 && before - after < 0.6,
        "{before} V to {after} V"
    );
    let mut state = bench.state().clone();
    for (name, at) in [("work lamps", "off"), ("key", "run"), ("engine", "fast")] {
        state.set_control(name, at.to_owned());
    }
    bench.set(state).unwrap();
    bench.pass_time(120.0).unwrap();
    assert!(
        bench.state().temperature_c > 85.0,
        "a running engine grows warm"
    );
    let mut state = bench.state().clone();
    state.set_control("key", "off".to_owned());
    state.set_control("engine", "stopped".to_owned());
    bench.set(state).unwrap();
    assert!(volts(&bench, "BAT.+", "BAT.-") > after + 0.1);
    bench.pass_time(10.0).unwrap();
    assert!(
        bench.state().temperature_c > 92.0,
        "heat soaks after it stops"
    );
    bench.pass_time(300.0).unwrap();
    assert!(bench.state().temperature_c < 22.0);
}
