//! Ignition: windings, gaps and sparks against common practice and closed forms.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use cimento_core::bench::{Bench, OperatingState, complaint};
use cimento_core::faults::{Fault, read_short_form};

fn bench<'c>(
    circuit: &'c cimento_core::circuit::Circuit,
    faults: &[&str],
    key: &str,
    engine: &str,
) -> Bench<'c> {
    let faults: Vec<Fault> = faults
        .iter()
        .map(|f| Fault::read(circuit, &read_short_form(f).unwrap(), "").unwrap())
        .collect();
    let mut bench = Bench::new(circuit, &faults).unwrap();
    let mut state = OperatingState::at_rest(circuit);
    if circuit.controls().iter().any(|c| c.name == "key") {
        state.set_control("key", key.to_owned());
    } else if key == "start" {
        state.set_control("rope", "pulled".to_owned());
    }
    state.set_control("engine", engine.to_owned());
    bench.set(state).unwrap();
    bench
}

#[test]
fn look() {
    for name in [
        "baggage-tug-ignition",
        "ground-power-unit-ignition",
        "fire-pump-ignition",
    ] {
        let circuit = common::demo(name);
        println!("{name} {:?}", circuit.warnings);
        for (key, engine) in [("start", "stopped"), ("run", "idle"), ("run", "loaded")] {
            let b = bench(&circuit, &[], key, engine);
            let t = std::time::Instant::now();
            let sparks = b.sparks().unwrap();
            let e = t.elapsed();
            println!("{key} {engine} {} rpm {:?}", b.rpm(), e);
            for s in sparks {
                println!(
                    "  {} at {:.4} s: {:.0} V, {:.2} ms, {:.1} mJ",
                    circuit.parts[s.part].id,
                    s.at_s,
                    s.volts,
                    s.burns_s * 1e3,
                    s.joules * 1e3
                );
            }
        }
    }
    for (name, faults) in [
        (
            "baggage-tug-ignition",
            vec![
                "",
                "R1:open",
                "P2:fouled=30000",
                "W14:high_resistance=1000000",
                "C1:open",
                "B1:never_open",
                "W10:open",
            ],
        ),
        (
            "ground-power-unit-ignition",
            vec![
                "",
                "W10:open",
                "W19:open",
                "T2:driver_open",
                "W4:open",
                "W14:high_resistance=1",
                "T3:secondary_open",
            ],
        ),
        (
            "fire-pump-ignition",
            vec![
                "",
                "W7:short_to_ground=0.05",
                "W9:short_to_ground",
                "S2:contact_stuck",
                "A1:magnets_weak",
                "A1:secondary_turns_shorted",
            ],
        ),
    ] {
        let circuit = common::demo(name);
        for f in faults {
            let faults: Vec<Fault> = (!f.is_empty())
                .then(|| Fault::read(&circuit, &read_short_form(f).unwrap(), "").unwrap())
                .into_iter()
                .collect();
            let t = std::time::Instant::now();
            let mut b = Bench::new(&circuit, &faults).unwrap();
            println!("{f}: {} {:?}", complaint(&mut b).unwrap().text, t.elapsed());
        }
    }
}
#[test]
fn dbg() {
    let circuit = common::demo("ground-power-unit-ignition");
    let b = bench(&circuit, &[], "start", "stopped");
    let n = circuit.part("U1").unwrap();
    println!("level {:?}", b.parts()[n]);
    let mut last = 0.0;
    let names = ["U1.T3", "T3.S", "T3.15", "T3.4"];
    let look = b
        .in_time(2.0, &|_| (), &mut |at, w, now| {
            if at - last > 2e-3 && at > 0.10 && at < 0.2 {
                last = at;
                let v: Vec<String> = names
                    .iter()
                    .map(|x| format!("{:.2}", now.voltage(w.node(circuit.node(x).unwrap()))))
                    .collect();
                println!("{at:.5} {v:?}");
            }
        })
        .unwrap()
        .unwrap();
    println!("{:?}", look.flips.len());
}
#[test]
fn all_single_faults() {
    for name in [
        "baggage-tug-ignition",
        "ground-power-unit-ignition",
        "fire-pump-ignition",
    ] {
        let circuit = common::demo(name);
        let t = std::time::Instant::now();
        let mut n = 0;
        for candidate in cimento_core::suspects::candidates(&circuit, None) {
            for set in candidate.grid.iter().step_by(3) {
                let mut b = match Bench::new(&circuit, set) {
                    Ok(b) => b,
                    Err(e) => {
                        println!("{name} {:?} {e}", set[0].about(&circuit));
                        continue;
                    }
                };
                n += 1;
                let t = std::time::Instant::now();
                match complaint(&mut b) {
                    Err(e) => println!("{name} {:?} {e}", set[0].about(&circuit)),
                    Ok(c) => {
                        if t.elapsed().as_millis() > 700 {
                            println!(
                                "{name} {} slow {:?} {}",
                                set[0].about(&circuit),
                                t.elapsed(),
                                c.text
                            )
                        }
                    }
                }
            }
        }
        println!("{name} {n} {:?}", t.elapsed());
    }
}
#[test]
#[ignore]
fn prof() {
    let circuit = common::demo("baggage-tug-ignition");
    for n in 0..200 {
        let f = Fault::read(
            &circuit,
            &read_short_form(&format!("W13:high_resistance={}", 1.0 + f64::from(n))).unwrap(),
            "",
        )
        .unwrap();
        let mut b = Bench::new(&circuit, &[f]).unwrap();
        complaint(&mut b).unwrap();
    }
}
