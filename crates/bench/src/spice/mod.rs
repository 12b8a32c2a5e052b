//! The circuit in a settled state as a SPICE netlist, for a stock SPICE to check.
//!
//! Nodes are named after their terminals, in lower case, with `.` written `_`, `+` as `pos` and
//! `-` as `neg`; node 0 is the battery's negative post. Motors are written with their torque
//! balance (a node whose voltage is the speed), so that SPICE finds the speed for itself. Of what goes
//! to and fro the first half of its period is written.

mod in_time;

pub use in_time::spice_in_time;

use std::fmt::Write;

use cimento_solver::{Element, LEAK_OHMS, LEAST_OHMS, Load, Netlist, Node};

use crate::{Bench, BenchError, Point};
use cimento_model::circuit::Circuit;
use cimento_model::stamped::StampedNetlist;
use cimento_model::text::one_line;

/// The name of a circuit's node in the netlist.
pub fn spice_name(node: &str) -> String {
    let mut out = String::new();
    for c in node.to_lowercase().chars() {
        match c {
            '+' => out += "pos",
            '-' => out += "neg",
            c if c.is_ascii_alphanumeric() => out.push(c),
            _ => out.push('_'),
        }
    }
    out
}

/// The netlist of a bench as it has settled, with an operating-point analysis and the voltages of
/// all named nodes printed.
///
/// # Errors
/// [`BenchError`] for a machine that cycles and so has no operating point.
pub fn spice_netlist(bench: &Bench) -> Result<String, BenchError> {
    let settled = bench.settled();
    let point = match settled.points.as_slice() {
        [point] => point,
        _ => return Err(BenchError::Chatters),
    };
    let circuit = &bench.circuit;
    let mut out = heading(bench);
    let keeps_speed = !point.waves.is_empty();
    let elements = without_rings(&point.wiring.net);
    for (n, element) in elements.iter().enumerate() {
        about(&mut out, circuit, &point.wiring, n);
        write_element(&mut out, circuit, (n, element), keeps_speed);
    }
    leaks(&mut out, circuit, &point.wiring, LEAK_OHMS);
    begin_at(&mut out, circuit, point);
    out += ".options gmin=1e-15 reltol=1e-7 abstol=1e-12 vntol=1e-6 itl1=500\n.control\nset numdgt=12\nop\n";
    for name in circuit.nodes.iter().skip(1) {
        let _ = writeln!(out, "print v({})", spice_name(name));
    }
    out += "quit 0\n.endc\n.end\n";
    Ok(out)
}

/// Title and faults, as comments.
fn heading(bench: &Bench) -> String {
    let circuit = &bench.circuit;
    let title = format!("{} · {}", circuit.doc.title, bench.state().about());
    let mut out = format!("* {}\n", one_line(&title));
    for fault in bench.faults() {
        let _ = writeln!(out, "* fault: {}", one_line(&fault.about(circuit)));
    }
    out
}

pub(super) fn node(circuit: &Circuit, n: Node) -> String {
    match n.index() {
        0 => "0".to_owned(),
        i => circuit
            .nodes
            .get(i)
            .map_or_else(|| format!("inner{i}"), |name| spice_name(name)),
    }
}

/// Where SPICE is to begin its search, which it does not find by itself behind junctions that block.
fn begin_at(out: &mut String, circuit: &Circuit, point: &Point) {
    let op = point.waves.first().map_or(&*point.op, |w| &w.op);
    for n in point.wiring.net.nodes() {
        let _ = writeln!(out, ".nodeset v({})={:e}", node(circuit, n), op.voltage(n));
    }
}

/// What closes a ring of ways without resistance, in ohms: sources of no volts in a ring have no solution in SPICE.
const CLOSES_OHMS: f64 = 1e-6;

/// The elements, with some resistance in what closes a ring of ways that have none.
fn without_rings(net: &Netlist) -> Vec<Element> {
    let mut joined: Vec<usize> = (0..net.node_count()).collect();
    let root = |joined: &[usize], mut at: usize| {
        while joined[at] != at {
            at = joined[at];
        }
        at
    };
    let mut one = |element: &Element| match *element {
        Element::Branch { a, b, ohms, volts } if ohms <= LEAST_OHMS && volts == 0.0 => {
            let (from, to) = (root(&joined, a.index()), root(&joined, b.index()));
            joined[from] = to;
            match from == to {
                true => Element::resistor(a, b, CLOSES_OHMS),
                false => *element,
            }
        }
        other => other,
    };
    net.elements().iter().map(&mut one).collect()
}

/// Says what the element at a position belongs to.
pub(super) fn about(out: &mut String, circuit: &Circuit, wiring: &StampedNetlist, n: usize) {
    let line = wiring.tags().iter().find(|l| l.element.index() == n);
    if let Some(line) = line {
        let _ = writeln!(out, "* {} {}", circuit.place_id(line.place), line.name);
    }
}

/// Writes an element by its position; `keeps_speed` of motors that are held at one.
pub(super) fn write_element(
    out: &mut String,
    circuit: &Circuit,
    (n, element): (usize, &Element),
    keeps_speed: bool,
) {
    let (a, b) = element.nodes();
    let (a, b) = (node(circuit, a), node(circuit, b));
    let _ = match *element {
        // An open branch is no branch: the leaks hold its ends.
        Element::Branch { ohms, .. } if ohms.is_infinite() => writeln!(out, "* open"),
        Element::Branch { ohms, volts, .. } => {
            // A source of no volts stands for no ohms: a tiny resistance would cost SPICE digits.
            let ohms = if ohms <= LEAST_OHMS { 0.0 } else { ohms };
            match (volts == 0.0, ohms == 0.0) {
                (true, false) => writeln!(out, "R{n} {a} {b} {ohms:e}"),
                (_, true) => writeln!(out, "V{n} {a} {b} DC {volts:e}"),
                _ => writeln!(
                    out,
                    "V{n} {a} src{n} DC {volts:e}\nR{n} src{n} {b} {ohms:e}"
                ),
            }
        }
        Element::Conductance { siemens, .. } => {
            writeln!(out, "R{n} {a} {b} {:e}", 1.0 / siemens)
        }
        Element::CurrentSource { amps, .. } => writeln!(out, "I{n} {a} {b} DC {amps:e}"),
        Element::Capacitor { farads, .. } => writeln!(out, "C{n} {a} {b} {farads:e}"),
        Element::Inductor { henries, .. } => writeln!(out, "L{n} {a} {b} {henries:e}"),
        Element::Diode {
            saturation_a,
            emission,
            ..
        } => writeln!(
            out,
            "D{n} {a} {b} dmod{n}\n.model dmod{n} D(IS={saturation_a:e} N={emission:e})"
        ),
        Element::Filament {
            rated_v,
            hot_ohms,
            cold_ohms,
            ..
        } => {
            let floor = (cold_ohms / hot_ohms).powf(2.0 / 0.45);
            writeln!(
                out,
                "B{n} {a} {b} I=V({a},{b})/({hot_ohms:e}*pow(V({a},{b})*V({a},{b})*{:e}+{floor:e},0.225))",
                (1.0 - floor) / (rated_v * rated_v)
            )
        }
        Element::Regulator { amps, ohms, .. } if ohms.is_infinite() => {
            writeln!(out, "I{n} {a} {b} DC {amps:e}")
        }
        Element::Regulator {
            plus,
            minus,
            volts,
            ohms,
            ..
        } => {
            let (plus, minus) = (node(circuit, plus), node(circuit, minus));
            // SPICE has no ideal one: a stiff one stands for it.
            let ohms = ohms.max(1e-6);
            writeln!(
                out,
                "I{n} {a} {b} DC {:e}\nG{n} {a} {b} {plus} {minus} {:e}",
                volts / ohms,
                -1.0 / ohms
            )
        }
        Element::Motor {
            ohms,
            k,
            load,
            held,
            ..
        } => {
            match held {
                // In one half of what goes to and fro a motor keeps the speed of the whole.
                Some(speed) if keeps_speed => writeln!(
                    out,
                    "V{n} {a} arm{n} DC 0\nR{n} arm{n} emf{n} {ohms:e}\nV{n}e emf{n} {b} DC {:e}",
                    k * speed
                ),
                _ => {
                    let turns = held.is_none_or(|w| w > 0.0);
                    motor(out, n, (&a, &b), (ohms, k), turns.then_some(load))
                }
            }
        }
    };
}

/// A motor that turns finds its speed from its load; one that stands has no back EMF.
fn motor(
    out: &mut String,
    n: usize,
    (a, b): (&str, &str),
    (ohms, k): (f64, f64),
    load: Option<Load>,
) -> std::fmt::Result {
    writeln!(out, "V{n} {a} arm{n} DC 0\nR{n} arm{n} emf{n} {ohms:e}")?;
    match load {
        Some(Load { static_nm, viscous }) => {
            writeln!(out, "E{n} emf{n} {b} speed{n} 0 {k:e}")?;
            writeln!(out, "F{n} 0 speed{n} V{n} {k:e}")?;
            writeln!(
                out,
                "I{n}t speed{n} 0 DC {static_nm:e}\nR{n}w speed{n} 0 {:e}",
                1.0 / viscous
            )
        }
        None => writeln!(out, "V{n}e emf{n} {b} DC 0"),
    }
}

/// Every node of ours leaks to zero; SPICE needs the same leaks, inner nodes included.
pub(super) fn leaks(out: &mut String, circuit: &Circuit, wiring: &StampedNetlist, ohms: f64) {
    for i in 1..wiring.net.node_count() {
        if let Some(n) = wiring.net.node_at(i) {
            let _ = writeln!(out, "RL{i} {} 0 {ohms:e}", node(circuit, n));
        }
    }
}
