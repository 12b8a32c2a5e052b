//! What an instructor should look at in a circuit that can be used.

use std::collections::VecDeque;

use super::mend::{Mend, colour_of, metal_of};
use super::place::ConductorKind;
use super::problem::Problem;
use super::{Circuit, Part};
use crate::part::{Shelf, Terminal};

/// So many changes are offered with a finding at most.
const MOST_MENDS: usize = 3;

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
    let doc = &circuit.doc;
    for (n, wire) in doc.wires.iter().enumerate() {
        let sized = wire.ohms.is_some()
            || wire.area_mm2.is_some()
            || wire.awg.is_some()
            || wire.ignition_lead.is_some();
        if !sized {
            let text = format!("{} has no size: its resistance is taken as zero", wire.id);
            let found = Problem::warning(format!("wires[{n}].area_mm2"), text);
            out.push(found.mended_by(doc, [Mend::Size { wire: n }]));
        } else if let (Some(ohms), true) =
            (wire.ohms, wire.area_mm2.is_some() || wire.awg.is_some())
        {
            let id = &wire.id;
            let text =
                format!("{id} has a size and a resistance: its resistance is taken as {ohms} Ω");
            let found = Problem::warning(format!("wires[{n}].ohms"), text);
            let mends = [Mend::KeepResistance { wire: n }, Mend::KeepSize { wire: n }];
            out.push(found.mended_by(doc, mends));
        } else if wire.ohms.is_none() && wire.length_m.is_none() {
            let text = format!("{} has no length: its resistance is taken as zero", wire.id);
            let found = Problem::warning(format!("wires[{n}].length_m"), text);
            out.push(found.mended_by(doc, [Mend::Length { wire: n }]));
        }
        if wire.color.is_none() {
            let text = format!("{} has no colour", wire.id);
            let found = Problem::warning(format!("wires[{n}].color"), text);
            let colour = colour_of(doc, n, circuit.positive_name());
            let mend = colour.map(|colour| Mend::Colour { wire: n, colour });
            out.push(found.mended_by(doc, mend));
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
                let found = Problem::warning(format!("connectors.{name}"), text);
                let mend = Mend::JoinBefore { side: name.clone() };
                out.push(found.mended_by(&circuit.doc, [mend]));
            }
            let number = cavity.id.rsplit('.').next().and_then(|n| n.parse().ok());
            let numbered = cavity.connector.as_ref().zip(number);
            let spare = numbered
                .as_ref()
                .is_some_and(|(c, n)| circuit.doc.connectors[c.as_str()].spare.contains(n));
            if wires.is_empty() && !spare {
                let text = format!("nothing is wired to {name}: a dead end");
                let found = Problem::warning(format!("connectors.{name}"), text);
                let mend = numbered.map(|(connector, cavity)| Mend::Spare {
                    connector: connector.clone(),
                    cavity,
                });
                out.push(found.mended_by(&circuit.doc, mend));
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
            let found = Problem::warning(format!("splices.{name}"), text);
            let splice = name.clone();
            out.push(found.mended_by(&circuit.doc, [Mend::TakeOutSplice { splice }]));
        }
    }
    for part in &circuit.parts {
        for (terminal, node) in part.terminals() {
            if meets[node] == 0 && terminal.needed {
                let text = format!("terminal {} of {} is not wired", terminal.name, part.id);
                let found = Problem::warning(format!("parts.{}", part.id), text);
                let mend = wired(circuit, part, terminal);
                out.push(found.mended_by(&circuit.doc, mend));
            }
        }
    }
}

/// Terminals that are fed where they take current, and those that it comes back from; DIN 72552 and common practice.
const FED: [&str; 5] = ["15", "86", "+", "1", "A"];
const RETURNED: [&str; 6] = ["31", "85", "2", "3", "K", "-"];

/// What a terminal that leads nowhere is joined to. Only what cannot be meant otherwise is offered: whatever switches,
/// senses or turns the engine is not tied to the battery or to metal.
fn wired(circuit: &Circuit, part: &Part, terminal: &Terminal) -> Option<Mend> {
    let point = format!("{}.{}", part.id, terminal.name);
    if terminal.is_case {
        return Some(Mend::Bolt {
            part: part.id.clone(),
            metal: metal_of(&circuit.doc),
        });
    }
    let at = |n: usize| part.kind.terminals()[n].name == terminal.name;
    let loads = part.loads();
    let (fed, returned) = (
        loads.iter().any(|(from, _)| at(*from)) && FED.contains(&terminal.name),
        loads.iter().any(|(_, to)| at(*to)) && RETURNED.contains(&terminal.name),
    );
    let shelf = part.kind.shelf();
    let takes = matches!(shelf, Shelf::Loads | Shelf::Switches | Shelf::Ignition);
    if fed && (takes || terminal.name == "+") {
        Some(Mend::FeedFused { point })
    } else if part.kind.is_source() || returned && shelf != Shelf::Components {
        (!terminal.feed_side).then_some(Mend::ToGround { point })
    } else {
        None
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
        let Some(way) = bridge(circuit, part.nodes[0], part.nodes[1]) else {
            continue;
        };
        let text = format!(
            "{} is bridged by what conducts alone: it is shorted",
            part.id
        );
        let found = Problem::warning(format!("parts.{}", part.id), text);
        let wires = &circuit.doc.wires;
        let on_way = |id: &&String| wires.iter().position(|w| w.id == **id);
        let mends = way.iter().filter_map(|id| on_way(&id)).take(MOST_MENDS);
        let mends: Vec<Mend> = mends.map(|wire| Mend::TakeOutWire { wire }).collect();
        out.push(found.mended_by(&circuit.doc, mends));
    }
}

/// The conductors of a shortest way from one node to another by conductors alone.
fn bridge(circuit: &Circuit, from: usize, to: usize) -> Option<Vec<String>> {
    let mut by: Vec<Option<(usize, &str)>> = vec![None; circuit.nodes.len()];
    let mut next = VecDeque::from([from]);
    while let Some(node) = next.pop_front() {
        if node == to {
            let mut way = Vec::new();
            let mut at = to;
            while let Some((before, id)) = by[at].filter(|_| at != from) {
                way.push(id.to_owned());
                at = before;
            }
            return Some(way);
        }
        for c in &circuit.conductors {
            for (a, b) in [(c.a, c.b), (c.b, c.a)] {
                if a == node && b != from && by[b].is_none() {
                    by[b] = Some((node, &c.id));
                    next.push_back(b);
                }
            }
        }
    }
    None
}

/// An ignition sparks while something turns its engine.
fn cranked(circuit: &Circuit, out: &mut Vec<Problem>) {
    if circuit.sparks() && !circuit.parts.iter().any(|p| p.kind.cranks()) {
        let text =
            "nothing turns the engine, so it never fires: give it a starter, or a hand starter";
        let found = Problem::warning("parts", text.to_owned());
        let kinds = ["starter", "hand_starter"].map(str::to_owned);
        let mends = kinds.map(|part_kind| Mend::PutIn { part_kind });
        out.push(found.mended_by(&circuit.doc, mends));
    }
}
