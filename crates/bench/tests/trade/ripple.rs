//! The ripple of an alternator, and what it sends with the diodes it has left, against a three-phase netlist in
//! ngspice: three windings in a star, six diodes, a cable, a battery with its resistance and inductance, a load.

use std::sync::Arc;

use crate::common::{self, number, with};

use cimento_bench::Bench;
use cimento_bench::instruments::Function;
use cimento_model::circuit::Circuit;
use cimento_parts::read_circuit;
use serde_json::json;

/// The machine: rated output at 6000 revolutions of the rotor per minute (ISO 8854, from memory), output from 1300
/// on, six pairs of poles, 2.5 turns of the rotor for one of the crankshaft.
const RATED_A: f64 = 65.0;
const RATED_RPM: f64 = 6000.0;
const CUT_IN_RPM: f64 = 1300.0;
const PAIRS: f64 = 6.0;
const SET_V: f64 = 14.3;
/// Of one winding, in ohms; common practice for a machine of this size.
const WINDING_OHMS: f64 = 0.03;
/// The field is fed by three diodes of its own.
const FIELD_OHMS: f64 = 3.5;
/// What two diodes in a row take, in volts; common practice.
const DIODES_V: f64 = 1.6;
/// A battery of 600 A cold cranking: 7.2 V at −18 °C (SAE J537), three quarters of that resistance warm.
const BATTERY_OHMS: f64 = (12.6 - 7.2) / 600.0 * 0.75;
const BATTERY_H: f64 = 0.2e-6;
const CABLE_OHMS: f64 = 0.002;

/// An alternator on a battery through a cable, with a load at the battery.
fn charging(load_ohms: f64) -> Arc<Circuit> {
    let doc = json!({"format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12,
    "parts": {
        "BAT": {"kind": "battery", "params": {"rest_v": 12.6, "cca_a": 600}},
        "A1": {"kind": "alternator", "mount": "engine", "params": {"rated_a": RATED_A, "set_v": SET_V}},
        "H1": {"kind": "lamp", "params": {"rated_w": 3}},
        "R1": {"kind": "resistor", "params": {"ohms": load_ohms}}
    },
    "grounds": {"G1": {"metal": "engine"}},
    "wires": [
        {"id": "W1", "from": "A1.B+", "to": "BAT.+", "ohms": CABLE_OHMS},
        {"id": "W2", "from": "BAT.+", "to": "H1.1", "ohms": 0.01},
        {"id": "W3", "from": "H1.2", "to": "A1.L", "ohms": 0.01},
        {"id": "W4", "from": "BAT.-", "to": "G1", "ohms": 0.0005},
        {"id": "W5", "from": "BAT.+", "to": "R1.1", "ohms": 0.001},
        {"id": "W6", "from": "R1.2", "to": "BAT.-", "ohms": 0.001}
    ]});
    read_circuit(&doc.to_string()).unwrap()
}

/// What one measures of a charging machine.
#[derive(Debug, Clone, Copy)]
struct Measured {
    /// Out of the alternator.
    amps: f64,
    battery_v: f64,
    battery_ac: f64,
    output_ac: f64,
}

impl Measured {
    fn of(bench: &Bench) -> Self {
        let at = |function, red| number(bench, function, red, "BAT.-");
        Self {
            amps: number(bench, Function::CLAMP_AMPS, "W1", "").abs(),
            battery_v: at(Function::DC_VOLTS, "BAT.+"),
            battery_ac: at(Function::AC_VOLTS, "BAT.+"),
            output_ac: at(Function::AC_VOLTS, "A1.B+"),
        }
    }
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum Diode {
    Sound,
    Open,
    Shorted,
}

impl Diode {
    fn faults(self) -> Vec<&'static str> {
        match self {
            Self::Sound => vec![],
            Self::Open => vec!["A1:diode_open"],
            Self::Shorted => vec!["A1:diode_shorted"],
        }
    }
}

/// The same in ngspice.
struct Machine {
    rotor_rpm: f64,
    /// Peak that a winding induces, in volts.
    induced_v: f64,
    henries: f64,
    diode: Diode,
    cable_ohms: f64,
    load_ohms: f64,
    /// What the battery holds behind its resistance, in volts.
    battery_v: f64,
}

impl Machine {
    fn run(&self) -> Measured {
        let hz = self.rotor_rpm / 60.0 * PAIRS;
        let mut net = String::from("* alternator\n.model d d(is=1e-9 n=1.35 rs=1m)\n");
        for (k, name) in ["a", "b", "c"].iter().enumerate() {
            let phase = -120.0 * k as f64;
            net += &format!(
                "Vemf{name} {name}0 star sin(0 {} {hz} 0 0 {phase})\nLwind{name} {name}0 {name}1 {}\nRwind{name} {name}1 {name} {WINDING_OHMS}\n",
                self.induced_v, self.henries
            );
            net += &match (k, self.diode) {
                (0, Diode::Open) => String::new(),
                (0, Diode::Shorted) => format!("Rs {name} out 1m\n"),
                _ => format!("Du{name} {name} out d\n"),
            };
            // What the windings hold to the core keeps the solver from breaking off where a diode blocks.
            net +=
                &format!("Dl{name} 0 {name} d\nDt{name} {name} field d\nCw{name} {name} 0 100n\n");
        }
        // Four turns of the phases are looked at once all has come to rest.
        let from = 16.0 / hz;
        let until = 20.0 / hz;
        let step = 1.0 / hz / 400.0;
        net += &format!(
            "If field 0 {}\nVm out cable 0\nRc cable bat {}\nVb cell 0 {}\nRb cell inner {BATTERY_OHMS}\nLb inner bat {BATTERY_H}\nRl bat 0 {}\n\
             .options reltol=1e-4 method=gear\n.control\nset numdgt=9\ntran {step} {until} {from} {step} uic\nlinearize\n\
             let am = mean(i(Vm))\nlet bm = mean(v(bat))\nlet bac = mean(abs(v(bat)-mean(v(bat))))\nlet oac = mean(abs(v(out)-mean(v(out))))\n\
             print am bm bac oac\n.endc\n.end\n",
            SET_V / FIELD_OHMS,
            self.cable_ohms,
            self.battery_v,
            self.load_ohms
        );
        let text = common::ngspice(&net);
        let value = |name: &str| -> f64 {
            let found = text
                .lines()
                .find_map(|l| l.strip_prefix(&format!("{name} = ")));
            found
                .unwrap_or_else(|| panic!("no {name} in {text}"))
                .trim()
                .parse()
                .unwrap()
        };
        // A meter that takes the mean of what it rectifies shows a sine's root mean square.
        let form = std::f64::consts::PI / 8f64.sqrt();
        Measured {
            amps: value("am"),
            battery_v: value("bm"),
            battery_ac: form * value("bac"),
            output_ac: form * value("oac"),
        }
    }

    /// Follows the machine with its windings weakened until it sends so many amperes.
    fn sending(mut self, amps: f64) -> Measured {
        let (mut low, mut high) = (0.3 * self.induced_v, self.induced_v);
        let mut last = self.run();
        for _ in 0..7 {
            self.induced_v = f64::midpoint(low, high);
            last = self.run();
            if last.amps > amps {
                high = self.induced_v;
            } else {
                low = self.induced_v;
            }
        }
        last
    }
}

/// What a winding induces under the full field, in volts: at the speed where output begins, two windings in a row
/// reach the set voltage and two diodes.
fn full_field_v(rotor_rpm: f64) -> f64 {
    (SET_V + DIODES_V) / 3f64.sqrt() * rotor_rpm / CUT_IN_RPM
}

fn at_full_field(rotor_rpm: f64, henries: f64, diode: Diode) -> Machine {
    Machine {
        rotor_rpm,
        induced_v: full_field_v(rotor_rpm),
        henries,
        diode,
        cable_ohms: 1e-4,
        load_ohms: 1e6,
        battery_v: SET_V,
    }
}

/// The inductance with which it gives its rated output into a supply at its set voltage.
fn henries() -> f64 {
    let (mut low, mut high) = (50e-6, 400e-6);
    for _ in 0..10 {
        let henries = f64::midpoint(low, high);
        if at_full_field(RATED_RPM, henries, Diode::Sound).run().amps > RATED_A {
            low = henries;
        } else {
            high = henries;
        }
    }
    f64::midpoint(low, high)
}

/// Within a fifth, and the last digit that the meter shows.
fn near(ours: f64, theirs: f64) -> bool {
    (ours - theirs).abs() <= 0.2 * theirs + 1e-3
}

#[test]
fn ripple_and_output_agree_with_a_netlist_of_six_diodes() {
    let henries = henries();
    // More load than any machine can feed, and what it can.
    for (speed, rotor_rpm) in [("idle", 2250.0), ("fast", 6250.0)] {
        let mut sound: Option<f64> = None;
        let loads: &[f64] = if common::all() {
            &[0.15, 0.4, 5.0]
        } else {
            &[0.4]
        };
        for &load_ohms in loads {
            let circuit = charging(load_ohms);
            for diode in [Diode::Sound, Diode::Open, Diode::Shorted] {
                let bench = with(&circuit, &diode.faults(), &[("engine", speed)]);
                let ours = Measured::of(&bench);
                let taken = ours.amps - ours.battery_v / load_ohms;
                let machine = || Machine {
                    cable_ohms: CABLE_OHMS,
                    load_ohms,
                    battery_v: ours.battery_v - BATTERY_OHMS * taken,
                    ..at_full_field(rotor_rpm, henries, diode)
                };
                let theirs = machine().sending(ours.amps);
                let what = format!("{speed}, {load_ohms} Ω, {diode:?}: {ours:?} beside {theirs:?}");
                assert!(
                    near(ours.battery_ac, theirs.battery_ac),
                    "at the battery, {what}"
                );
                assert!(near(ours.output_ac, theirs.output_ac), "at B+, {what}");
                // What it can give, or what is lost of it, where all is not enough.
                let full = machine().run().amps;
                if ours.battery_v < SET_V - 0.4 {
                    let their_sound = *sound.get_or_insert(full);
                    let most = full.max(their_sound - full);
                    assert!(
                        (ours.amps - full).abs() <= 0.2 * most,
                        "{full} A beside {their_sound} A of a sound one: {what}"
                    );
                }
            }
        }
    }
}

/// Common practice: 5 to 60 mV of a sound machine, several times that with a diode open.
#[test]
fn a_sound_machine_ripples_little_and_an_open_diode_tells() {
    for (speed, load_ohms) in [("idle", 5.0), ("idle", 0.4), ("fast", 5.0), ("fast", 0.4)] {
        let circuit = charging(load_ohms);
        let at = |faults: &[&str]| {
            let bench = with(&circuit, faults, &[("engine", speed)]);
            number(&bench, Function::AC_VOLTS, "BAT.+", "BAT.-")
        };
        let sound = at(&[]);
        assert!(
            (0.004..0.060).contains(&sound),
            "{speed}, {load_ohms} Ω: {sound} V"
        );
        let open = at(&["A1:diode_open"]);
        assert!(
            open >= 5.0 * sound,
            "{speed}, {load_ohms} Ω: {open} V beside {sound} V"
        );
    }
    // Where it can still hold its set point, a shorted one ripples most.
    let circuit = charging(5.0);
    let at = |fault: &str| {
        let bench = with(&circuit, &[fault], &[("engine", "fast")]);
        number(&bench, Function::AC_VOLTS, "BAT.+", "BAT.-")
    };
    assert!(at("A1:diode_shorted") > at("A1:diode_open"));
}

/// A bad output cable raises the ripple at B+, by its resistance, and not at the battery; a bad diode raises both.
#[test]
fn a_bad_cable_is_told_from_a_diode_by_where_the_ripple_is_read() {
    let circuit = charging(0.4);
    let at = |faults: &[&str]| {
        let bench = with(&circuit, faults, &[("engine", "fast")]);
        let read = |red| number(&bench, Function::AC_VOLTS, red, "BAT.-");
        (read("BAT.+"), read("A1.B+"))
    };
    let (battery, output) = at(&[]);
    let (behind_cable, before_cable) = at(&["W1:high_resistance=0.05"]);
    assert!(
        (behind_cable / battery - 1.0).abs() < 0.25,
        "{behind_cable} beside {battery}"
    );
    assert!(
        before_cable > 3.0 * output && before_cable < 0.5,
        "{before_cable} beside {output}"
    );
    let (with_diode, at_output) = at(&["A1:diode_open"]);
    assert!(with_diode > 5.0 * battery && at_output > 5.0 * output);
}
