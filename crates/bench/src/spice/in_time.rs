//! A turning machine as a SPICE netlist with a transient analysis, for a stock SPICE to check.
//!
//! What is slow beside a spark (motors, regulators, filaments) is written as it stands at the operating
//! point. Contacts follow a gate whose edges are their schedule. A spark gap is a switch with hysteresis on
//! its own voltage behind a source that opposes the arc's current; its rest after an arc is left out.

use std::fmt::Write;

use cimento_solver::{Element, LEAK_IN_TIME_OHMS, Shape, Start, Switch, Trigger, held};

use super::{about, heading, leaks, node, write_element};
use crate::{Bench, BenchError};
use cimento_model::circuit::Circuit;

/// Width of an edge of a gate, in seconds.
const EDGE_S: f64 = 2e-9;
/// Of a switch: closed at least so many ohms, open so many.
const LEAST_OHMS: f64 = 1e-6;
const OPEN_OHMS: f64 = 1e12;
/// Delay of a gap's gate: ten nanoseconds.
const DELAY_OHMS: f64 = 1e3;
const DELAY_F: f64 = 10e-12;
/// Longest step, as a share of the run.
const SHARE: f64 = 1e-5;

/// The netlist of a turning machine over some turns of its crankshaft. `measures` are lines that SPICE runs
/// after the analysis.
///
/// # Errors
/// [`BenchError`] when nothing turns.
pub fn spice_in_time(bench: &Bench, turns: f64, measures: &str) -> Result<String, BenchError> {
    let Some((wiring, op)) = bench.moving(turns)? else {
        return Err(BenchError::NothingTurns);
    };
    let circuit = &bench.circuit;
    let until_s = turns * 60.0 / bench.rpm();
    let net = held(&wiring.net, &op);
    let start = Start::from(&wiring.net, &op);
    let stored = |n: usize| start.stored.iter().find(|(id, _)| id.index() == n);
    let mut out = heading(bench);
    for (n, element) in net.elements().iter().enumerate() {
        about(&mut out, circuit, &wiring, n);
        let mut switches = wiring.motion.switches.iter();
        let mut shapes = wiring.motion.shapes.iter();
        if let Some(switch) = switches.find(|s| s.element.index() == n) {
            write_switch(&mut out, circuit, (n, element), switch, until_s);
        } else if let Some((_, shape)) = shapes.find(|(id, _)| id.index() == n) {
            write_shape(&mut out, circuit, (n, element), shape, until_s);
        } else {
            write_element(&mut out, circuit, (n, element), false);
            if let Some((_, value)) = stored(n) {
                out.truncate(out.trim_end().len());
                let _ = writeln!(out, " IC={value:e}");
            }
        }
    }
    for (n, &(first, second, mutual)) in net.couplings().iter().enumerate() {
        let henries = |id| match *net.element(id) {
            Element::Inductor { henries, .. } => henries,
            _ => 1.0,
        };
        let share = mutual / (henries(first) * henries(second)).sqrt();
        let (first, second) = (first.index(), second.index());
        let _ = writeln!(out, "K{n} L{first} L{second} {share:e}");
    }
    leaks(&mut out, circuit, &wiring, LEAK_IN_TIME_OHMS);
    let step_s = until_s * SHARE;
    let _ = write!(
        out,
        ".options gmin=1e-15 reltol=1e-4 abstol=1e-9 vntol=1e-5 method=gear\n\
         .tran {step_s:e} {until_s:e} 0 {step_s:e} UIC\n.control\nset numdgt=9\nrun\n{measures}\nquit 0\n.endc\n.end\n"
    );
    Ok(out)
}

fn write_switch(
    out: &mut String,
    circuit: &Circuit,
    (n, element): (usize, &Element),
    switch: &Switch,
    until_s: f64,
) {
    let (a, b) = element.nodes();
    let (a, b) = (node(circuit, a), node(circuit, b));
    let (ohms, volts) = (switch.ohms.max(LEAST_OHMS), switch.volts);
    // Closed from `above` volts at its gate on, open again under `under`.
    let mut hysteresis = |gate: &str, above: f64, under: f64| {
        let (middle, half) = (f64::midpoint(above, under), (above - under) / 2.0);
        writeln!(
            out,
            "S{n} arc{n} {b} {gate} 0 sw{n}\n\
             .model sw{n} SW(VT={middle:e} VH={half:e} RON={ohms:e} ROFF={OPEN_OHMS:e})"
        )
    };
    let _ = match &switch.trigger {
        Trigger::Schedule(instants) => {
            let mut closed = switch.closed;
            let level = |closed: bool| if closed { 1 } else { 0 };
            let mut edges = format!("0 {}", level(closed));
            for at_s in instants {
                let _ = write!(edges, " {:e} {}", at_s - EDGE_S, level(closed));
                closed = !closed;
                let _ = write!(edges, " {at_s:e} {}", level(closed));
            }
            let gate = format!("gate{n}");
            let _ = hysteresis(&gate, 0.5, 0.5);
            writeln!(
                out,
                "V{n} {a} arc{n} DC {volts:e}\nV{n}g {gate} 0 PWL({edges})"
            )
        }
        Trigger::Voltage {
            plus,
            minus,
            close_v,
            open_v,
            ..
        } => {
            let (plus, minus) = (node(circuit, *plus), node(circuit, *minus));
            let gate = format!("gate{n}");
            let _ = hysteresis(&gate, *close_v, *open_v);
            writeln!(
                out,
                "V{n} {a} arc{n} DC {volts:e}\nE{n}g {gate} 0 {plus} {minus} 1"
            )
        }
        // A clamp: it holds the volts that it gives way at.
        Trigger::Gap {
            breakdown_v,
            hold_a,
            ..
        } if volts + hold_a * ohms >= *breakdown_v => writeln!(
            out,
            "B{n} {a} {b} I=sgn(V({a},{b}))*max(0,abs(V({a},{b}))-{volts:e})/{ohms:e}"
        ),
        Trigger::Gap {
            breakdown_v,
            in_time,
            hold_a,
            ..
        } => {
            let gate = format!("gate{n}");
            let _ = hysteresis(&gate, *breakdown_v, volts + hold_a * ohms);
            // Where the gas changes, what is felt jumps over what it takes as the voltage does.
            let felt = match in_time {
                Some(_) => format!(
                    "(abs(V({a},{b})) > V(needs{n})) ? {:e} : abs(V({a},{b}))",
                    breakdown_v * 1.01
                ),
                None => format!("abs(V({a},{b}))"),
            };
            if let Some(needs) = in_time {
                let needs = follows(needs, until_s);
                let _ = writeln!(out, "V{n}n needs{n} 0 {needs}");
            }
            // Its own arc pulls the gate down at once: without a delay no solution would stand still.
            writeln!(
                out,
                "B{n} {a} arc{n} V={volts:e}*sgn(V({a},{b}))\n\
                 B{n}g felt{n} 0 V={felt}\n\
                 R{n}g felt{n} {gate} {DELAY_OHMS:e}\n\
                 C{n}g {gate} 0 {DELAY_F:e} IC=0"
            )
        }
        Trigger::Rectifier => writeln!(
            out,
            "D{n} {a} {b} dmod{n}\n.model dmod{n} D(IS=1e-9 N=1.8 RS={ohms:e})"
        ),
        // It conducts while its gate is up or its current holds it.
        Trigger::Thyristor {
            gate,
            cathode,
            gate_v,
            hold_a,
        } => {
            let (gate, cathode) = (node(circuit, *gate), node(circuit, *cathode));
            let latch = format!("gate{n}");
            let _ = hysteresis(&latch, 1.0, 0.99);
            writeln!(
                out,
                "V{n} {a} arc{n} DC {volts:e}\n\
                 B{n}g felt{n} 0 V=min(2,max(V({gate},{cathode})/{gate_v:e},I(V{n})/{hold_a:e}))\n\
                 R{n}g felt{n} {latch} {DELAY_OHMS:e}\n\
                 C{n}g {latch} 0 {DELAY_F:e} IC=0"
            )
        }
    };
}

fn write_shape(
    out: &mut String,
    circuit: &Circuit,
    (n, element): (usize, &Element),
    shape: &Shape,
    until_s: f64,
) {
    let (a, b) = element.nodes();
    let (a, b) = (node(circuit, a), node(circuit, b));
    let ohms = match *element {
        Element::Branch { ohms, .. } => ohms,
        _ => 0.0,
    };
    if ohms.is_infinite() {
        let _ = writeln!(out, "* open");
        return;
    }
    let follows = follows(shape, until_s);
    let _ = writeln!(
        out,
        "V{n} {a} src{n} {follows}\nR{n} src{n} {b} {:e}",
        ohms.max(LEAST_OHMS)
    );
}

/// A shape as the value of a source.
fn follows(shape: &Shape, until_s: f64) -> String {
    match shape {
        Shape::Sine { volts, hz, phase } => {
            format!("SIN(0 {volts:e} {hz:e} 0 0 {:e})", phase.to_degrees())
        }
        Shape::Lines { points, phase_s } => {
            let period = points.last().map_or(1.0, |p| p.0);
            let mut edges = format!("0 {:e}", shape.volts(0.0));
            let mut last_s = 0.0;
            let begins = (0..).map(|k| f64::from(k) * period - phase_s);
            for begin_s in begins.take_while(|begin| *begin < until_s) {
                for (at_s, volts) in points.iter().map(|p| (begin_s + p.0, p.1)) {
                    if at_s > 0.0 {
                        // A jump is two points at one instant: SPICE wants them apart.
                        last_s = at_s.max(last_s + EDGE_S);
                        let _ = write!(edges, " {last_s:e} {volts:e}");
                    }
                }
            }
            format!("PWL({edges})")
        }
    }
}
