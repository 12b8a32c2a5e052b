//! What an instructor should look at in a circuit that can be used.

use super::Circuit;
use super::place::ConductorKind;
use super::problem::Problem;

pub(super) fn findings(circuit: &Circuit) -> Vec<Problem> {
    let mut out = Vec::new();
    wire_data(circuit, &mut out);
    shared_cavities(circuit, &mut out);
    dead_ends(circuit, &mut out);
    returns(circuit, &mut out);
    bridged(circuit, &mut out);
    cranked(circuit, &mut out);
    out
}

fn wire_data(circuit: &Circuit, out: &mut Vec<Problem>) {
    for (n, wire) in circuit.doc.wires.iter().enumerate() {
        let sized = wire.ohms.is_some()
            || wire.area_mm2.is_some()
            || wire.awg.is_some()
            || wire.ignition_lead.is_some();
        if !sized {
            let text = format!("{} has no size: its resistance is taken as zero", wire.id);
            out.push(Problem::warning(format!("wires[{n}].area_mm2"), text));
        } else if let (Some(ohms), true) =
            (wire.ohms, wire.area_mm2.is_some() || wire.awg.is_some())
        {
            let id = &wire.id;
            let text =
                format!("{id} has a size and a resistance: its resistance is taken as {ohms} Ω");
            out.push(Problem::warning(format!("wires[{n}].ohms"), text));
        } else if wire.ohms.is_none() && wire.length_m.is_none() {
            let text = format!("{} has no length: its resistance is taken as zero", wire.id);
            out.push(Problem::warning(format!("wires[{n}].length_m"), text));
        }
        if wire.color.is_none() {
            let text = format!("{} has no colour", wire.id);
            out.push(Problem::warning(format!("wires[{n}].color"), text));
        }
    }
}

fn shared_cavities(circuit: &Circuit, out: &mut Vec<Problem>) {
    for cavity in &circuit.conductors {
        if cavity.kind != ConductorKind::Cavity {
            continue;
        }
        for node in [cavity.a, cavity.b] {
            let name = &circuit.nodes[node];
            let wires: Vec<_> = circuit
                .doc
                .wires
                .iter()
                .filter(|w| w.from == *name || w.to == *name)
                .map(|w| w.id.as_str())
                .collect();
            if wires.len() > 1 {
                let text = format!("{} share cavity {name}", wires.join(" and "));
                out.push(Problem::warning(format!("connectors.{name}"), text));
            }
            let spare = cavity.connector.as_ref().is_some_and(|c| {
                let n = cavity.id.rsplit('.').next().and_then(|n| n.parse().ok());
                n.is_some_and(|n| circuit.doc.connectors[c.as_str()].spare.contains(&n))
            });
            if wires.is_empty() && !spare {
                let text = format!("nothing is wired to {name}: a dead end");
                out.push(Problem::warning(format!("connectors.{name}"), text));
            }
        }
    }
}

fn dead_ends(circuit: &Circuit, out: &mut Vec<Problem>) {
    let mut meets = vec![0usize; circuit.nodes.len()];
    for c in &circuit.conductors {
        meets[c.a] += 1;
        meets[c.b] += 1;
    }
    for (name, node) in circuit
        .doc
        .splices
        .keys()
        .filter_map(|s| Some((s, circuit.node(s)?)))
    {
        if meets[node] < 2 {
            let text = format!("splice {name} joins fewer than two wires");
            out.push(Problem::warning(format!("splices.{name}"), text));
        }
    }
    for part in &circuit.parts {
        for (terminal, node) in part.terminals() {
            if meets[node] == 0 && terminal.needed {
                let text = format!("terminal {} of {} is not wired", terminal.name, part.id);
                out.push(Problem::warning(format!("parts.{}", part.id), text));
            }
        }
    }
}

/// Each load needs a way to a source and a way back.
fn returns(circuit: &Circuit, out: &mut Vec<Problem>) {
    for part in &circuit.parts {
        for (from, to) in part.loads() {
            let (from, to) = (part.nodes[from], part.nodes[to]);
            if circuit.path_through(part, from, to).is_none() {
                let text = format!(
                    "{} has no complete path from the battery's positive post and back to its negative",
                    part.id
                );
                out.push(Problem::warning(format!("parts.{}", part.id), text));
            }
        }
    }
}

/// A battery whose posts are joined by conductors alone burns what joins them.
fn bridged(circuit: &Circuit, out: &mut Vec<Problem>) {
    for part in circuit.parts.iter().filter(|p| p.kind.is_source()) {
        let mut reached = vec![false; circuit.nodes.len()];
        let mut next = vec![part.nodes[0]];
        while let Some(node) = next.pop() {
            if std::mem::replace(&mut reached[node], true) {
                continue;
            }
            for c in &circuit.conductors {
                next.extend((c.a == node).then_some(c.b));
                next.extend((c.b == node).then_some(c.a));
            }
        }
        if reached[part.nodes[1]] {
            let text = format!(
                "{} is bridged by what conducts alone: it is shorted",
                part.id
            );
            out.push(Problem::warning(format!("parts.{}", part.id), text));
        }
    }
}

/// An ignition sparks while something turns its engine.
fn cranked(circuit: &Circuit, out: &mut Vec<Problem>) {
    if circuit.sparks() && !circuit.parts.iter().any(|p| p.kind.cranks()) {
        let text =
            "nothing turns the engine, so it never fires: give it a starter, or a hand starter";
        out.push(Problem::warning("parts", text.to_owned()));
    }
}
