//! From document to checked circuit: names are resolved, values looked at, nodes numbered.

use std::collections::{BTreeMap, HashMap, HashSet};
use std::sync::Arc;

use cimento_model::circuit::{Circuit, Part, Skeleton, TestPoint, read_json};
use cimento_model::circuit::{CircuitDoc, FORMAT, PartDoc, VERSION, WireDoc};
use cimento_model::circuit::{Conductor, ConductorKind};
use cimento_model::circuit::{Mend, Problem, Refused};
use cimento_model::part::{Control, Params, PartKind};
use cimento_model::text::{figure, flaw};

use crate::{kind, kinds};
use cimento_model::units::{awg_area_mm2, wire_ohms};

/// Contact resistance of a healthy cavity, in ohms; common practice.
const CAVITY_OHMS: f64 = 0.003;
/// Contact resistance of a clean lug or mounting face, in ohms; common practice.
const LUG_OHMS: f64 = 0.000_2;
/// More than this many of a thing is a mistake or an attack, not a trainer.
const MOST: usize = 2000;
const MOST_CAVITIES: u32 = 200;

struct Builder {
    nodes: Vec<String>,
    node_of: HashMap<String, usize>,
    problems: Vec<Problem>,
}

impl Builder {
    fn node(&mut self, name: &str) -> usize {
        if let Some(&n) = self.node_of.get(name) {
            return n;
        }
        self.nodes.push(name.to_owned());
        self.node_of.insert(name.to_owned(), self.nodes.len() - 1);
        self.nodes.len() - 1
    }

    fn refuse(&mut self, path: impl Into<String>, message: impl Into<String>) {
        self.problems.push(Problem::refused(path, message));
    }

    /// The same with changes that would mend what was refused last.
    fn mended_by(&mut self, doc: &CircuitDoc, mends: impl IntoIterator<Item = Mend>) {
        if let Some(last) = self.problems.pop() {
            self.problems.push(last.mended_by(doc, mends));
        }
    }

    /// A number that has to be finite and inside a range.
    fn range(&mut self, path: String, value: Option<f64>, least: f64, most: f64, unit: &str) {
        if let Some(v) = value
            && !(v.is_finite() && v >= least && v <= most)
        {
            self.refuse(
                path,
                format!(
                    "{} is out of range: expected {} to {} {unit}",
                    figure(v),
                    figure(least),
                    figure(most)
                ),
            );
        }
    }
}

/// Checks a circuit document.
///
/// # Errors
/// [`Refused`] with every problem that makes it unusable, each with its path.
pub fn build_circuit(doc: CircuitDoc) -> Result<Arc<Circuit>, Refused> {
    build(doc).map(Arc::new)
}

/// Reads and checks a circuit in JSON.
///
/// # Errors
/// [`Refused`] with the path of each mistake and what was expected.
pub fn read_circuit(text: &str) -> Result<Arc<Circuit>, Refused> {
    build_circuit(read_json(text)?)
}

fn build(doc: CircuitDoc) -> Result<Circuit, Refused> {
    let mut b = Builder {
        nodes: Vec::new(),
        node_of: HashMap::new(),
        problems: Vec::new(),
    };
    head(&mut b, &doc);
    if !b.problems.is_empty() {
        return Err(Refused(b.problems));
    }
    let parts = parts(&mut b, &doc);
    controls(&mut b, &parts);
    let mut conductors = mounts(&mut b, &doc, &parts);
    grounds(&mut b, &doc, &mut conductors);
    let sides = cavities(&mut b, &doc, &mut conductors);
    splices(&mut b, &doc, &mut conductors);
    wires(&mut b, &doc, &sides, &mut conductors);
    if !b.problems.is_empty() {
        return Err(Refused(b.problems));
    }
    let body = b.nodes.iter().position(|n| n == "metal:body");
    let any_metal = b.nodes.iter().position(|n| n.starts_with("metal:"));
    for c in &mut conductors {
        c.near_metal = match c.kind {
            ConductorKind::Wire | ConductorKind::Cavity | ConductorKind::Splice => {
                body.or(any_metal)
            }
            _ => None,
        };
    }
    let mut parts = parts;
    for part in &mut parts {
        for (wired, node) in part.wired.iter_mut().zip(&part.nodes) {
            *wired = conductors.iter().any(|c| c.a == *node || c.b == *node);
        }
    }
    let test_points = test_points(&doc, &b, &parts);
    let skeleton = Skeleton {
        nodes: b.nodes,
        node_of: b.node_of,
        parts,
        conductors,
        test_points,
    };
    Ok(Circuit::assembled(doc, skeleton))
}

fn head(b: &mut Builder, doc: &CircuitDoc) {
    if doc.format != FORMAT {
        b.refuse(
            "format",
            format!("“{}” is not a circuit: expected {FORMAT}", doc.format),
        );
    }
    if doc.version != VERSION {
        b.refuse(
            "version",
            format!("version {} cannot be read: expected {VERSION}", doc.version),
        );
    }
    b.range("system_v".into(), Some(doc.system_v), 1.0, 60.0, "V");
    let sizes = [
        ("parts", doc.parts.len()),
        ("connectors", doc.connectors.len()),
        ("splices", doc.splices.len()),
        ("grounds", doc.grounds.len()),
        ("wires", doc.wires.len()),
    ];
    for (what, count) in sizes {
        if count > MOST {
            b.refuse(
                what,
                format!("{count} entries are too many: expected at most {MOST}"),
            );
        }
    }
    texts(b, doc);
    let mut seen = HashSet::new();
    let ids = [
        ("parts", doc.parts.keys().collect::<Vec<_>>()),
        ("connectors", doc.connectors.keys().collect()),
        ("splices", doc.splices.keys().collect()),
        ("grounds", doc.grounds.keys().collect()),
    ];
    for (what, keys) in ids {
        for id in keys {
            name_is_sound(b, &format!("{what}.{id}"), id);
            if !seen.insert(id.as_str()) {
                b.refuse(format!("{what}.{id}"), format!("the id {id} is used twice"));
            }
        }
    }
    for (n, wire) in doc.wires.iter().enumerate() {
        name_is_sound(b, &format!("wires[{n}].id"), &wire.id);
        if !seen.insert(wire.id.as_str()) {
            b.refuse(
                format!("wires[{n}].id"),
                format!("the id {} is used twice", wire.id),
            );
            b.mended_by(doc, [Mend::Rename { wire: n }]);
        }
    }
}

/// Texts stand in one line: some of them reach files in which a new line is a command.
fn texts(b: &mut Builder, doc: &CircuitDoc) {
    let mut sound = |path: String, text: Option<&String>| {
        if let Some(flaw) = text.and_then(|t| flaw(t)) {
            b.refuse(path, flaw);
        }
    };
    sound("title".to_owned(), Some(&doc.title));
    for (id, part) in &doc.parts {
        sound(format!("parts.{id}.name"), part.name.as_ref());
        sound(format!("parts.{id}.control"), part.control.as_ref());
        for (name, value) in &part.params {
            let path = format!("parts.{id}.params.{name}");
            each_text(value, &mut |text| sound(path.clone(), Some(text)));
        }
    }
    for (id, connector) in &doc.connectors {
        sound(format!("connectors.{id}.place"), connector.place.as_ref());
    }
    for (id, splice) in &doc.splices {
        sound(format!("splices.{id}.harness"), splice.harness.as_ref());
    }
    for (id, ground) in &doc.grounds {
        sound(format!("grounds.{id}.place"), ground.place.as_ref());
    }
    for (n, wire) in doc.wires.iter().enumerate() {
        sound(format!("wires[{n}].harness"), wire.harness.as_ref());
    }
}

/// Every text in a value, names of its members too. What was read from JSON is not deep.
fn each_text(value: &serde_json::Value, see: &mut dyn FnMut(&String)) {
    use serde_json::Value;
    match value {
        Value::String(text) => see(text),
        Value::Array(all) => all.iter().for_each(|v| each_text(v, see)),
        Value::Object(all) => all.iter().for_each(|(name, v)| {
            see(name);
            each_text(v, see);
        }),
        _ => {}
    }
}

fn name_is_sound(b: &mut Builder, path: &str, id: &str) {
    let sound = !id.is_empty()
        && id.len() <= 24
        && id
            .chars()
            .all(|c| c.is_ascii_alphanumeric() || c == '_' || c == '-');
    if !sound {
        b.refuse(
            path,
            format!("“{id}” is no id: expected up to 24 letters, digits, _ or -"),
        );
    }
}

fn parts(b: &mut Builder, doc: &CircuitDoc) -> Vec<Part> {
    let mut found: Vec<(&String, &'static dyn PartKind)> = Vec::new();
    for (id, part) in &doc.parts {
        match kind(&part.kind) {
            Some(kind) => found.push((id, kind)),
            None => b.refuse(
                format!("parts.{id}.kind"),
                format!(
                    "“{}” is no kind of part: expected one of {}",
                    part.kind,
                    kinds()
                ),
            ),
        }
    }
    match found.iter().find(|(_, kind)| kind.is_source()) {
        // Zero volts is the battery's negative post, so it takes number 0.
        Some((id, _)) => b.node(&format!("{id}.-")),
        None => {
            b.refuse(
                "parts",
                "there is no battery: expected one, its negative post is zero volts",
            );
            let part_kind = "battery".to_owned();
            b.mended_by(doc, [Mend::PutIn { part_kind }]);
            return Vec::new();
        }
    };
    let mut named: BTreeMap<String, usize> = BTreeMap::new();
    for (id, kind) in &found {
        *named
            .entry(name_of(&doc.parts[id.as_str()], *kind))
            .or_default() += 1;
    }
    found
        .into_iter()
        .map(|(id, kind)| {
            let part = &doc.parts[id.as_str()];
            let path = format!("parts.{id}");
            b.range(
                format!("{path}.reach_min"),
                part.reach_minutes,
                0.0,
                600.0,
                "min",
            );
            let params = Params::read(
                kind,
                &part.params,
                &format!("{path}.params"),
                &mut b.problems,
            );
            // A terminal that the part does not have is never stamped: zero stands in for it.
            let nodes = (0..kind.terminals().len())
                .map(|n| match kind.has_terminal(&params, n) {
                    true => b.node(&format!("{id}.{}", kind.terminals()[n].name)),
                    false => 0,
                })
                .collect();
            Part {
                id: id.clone(),
                shares_name: named.get(&name_of(part, kind)).is_some_and(|n| *n > 1),
                name: name_of(part, kind),
                kind,
                wired: vec![false; kind.terminals().len()],
                nodes,
                params,
                control: part.control.clone(),
                reach_minutes: part.reach_minutes.unwrap_or(1.0),
            }
        })
        .collect()
}

/// Parts that move together have the same positions, or one of them cannot be set.
fn controls(b: &mut Builder, parts: &[Part]) {
    let mut known: Vec<(&Part, Control)> = Vec::new();
    for part in parts {
        let Some(control) = part.kind.control(part) else {
            continue;
        };
        let other = known.iter().find(|(_, c)| c.name == control.name);
        if let Some((first, other)) = other
            && other.positions != control.positions
        {
            let (name, there) = (&control.name, other.positions.join(", "));
            b.refuse(
                format!("parts.{}.control", part.id),
                format!(
                    "{name} moves {} too, between {there}: expected the same positions, or another name",
                    first.id
                ),
            );
        }
        known.push((part, control));
    }
}

fn name_of(part: &PartDoc, kind: &dyn PartKind) -> String {
    part.name.clone().unwrap_or_else(|| kind.title().to_owned())
}

fn conductor(id: String, kind: ConductorKind, a: usize, b: usize, ohms: f64) -> Conductor {
    Conductor {
        id,
        kind,
        a,
        b,
        ohms,
        near_metal: None,
        connector: None,
        harness: None,
        area_mm2: None,
        ignition_lead: None,
        doubt: 1.0,
    }
}

fn mounts(b: &mut Builder, doc: &CircuitDoc, parts: &[Part]) -> Vec<Conductor> {
    let mut out = Vec::new();
    for (id, part) in &doc.parts {
        let (Some(metal), Some(built)) = (&part.mount, parts.iter().find(|p| p.id == *id)) else {
            continue;
        };
        let case = built.kind.terminals().iter().position(|t| t.is_case);
        match case {
            Some(case) => {
                name_is_sound(b, &format!("parts.{id}.mount"), metal);
                let metal = b.node(&format!("metal:{metal}"));
                out.push(conductor(
                    format!("{id}.mount"),
                    ConductorKind::Mount,
                    built.nodes[case],
                    metal,
                    LUG_OHMS,
                ));
            }
            None => {
                b.refuse(
                    format!("parts.{id}.mount"),
                    format!(
                        "a {} does not ground through its case: leave mount out",
                        part.kind
                    ),
                );
                b.mended_by(doc, [Mend::Unbolt { part: id.clone() }]);
            }
        }
    }
    out
}

fn grounds(b: &mut Builder, doc: &CircuitDoc, out: &mut Vec<Conductor>) {
    for (id, ground) in &doc.grounds {
        name_is_sound(b, &format!("grounds.{id}.metal"), &ground.metal);
        b.range(
            format!("grounds.{id}.reach_min"),
            ground.reach_minutes,
            0.0,
            600.0,
            "min",
        );
        b.range(
            format!("grounds.{id}.contact_ohms"),
            ground.contact_ohms,
            0.0,
            1.0,
            "Ω",
        );
        let (lug, metal) = (b.node(id), b.node(&format!("metal:{}", ground.metal)));
        let ohms = ground.contact_ohms.unwrap_or(LUG_OHMS);
        out.push(conductor(
            id.clone(),
            ConductorKind::Ground,
            lug,
            metal,
            ohms,
        ));
    }
}

/// Cavity sides that wires may name, made for those they do name.
fn cavities(b: &mut Builder, doc: &CircuitDoc, out: &mut Vec<Conductor>) -> HashSet<String> {
    let mut sides = HashSet::new();
    for (id, connector) in &doc.connectors {
        let path = format!("connectors.{id}");
        if connector.cavities == 0 || connector.cavities > MOST_CAVITIES {
            let n = connector.cavities;
            b.refuse(
                format!("{path}.cavities"),
                format!("{n} cavities cannot be: expected 1 to {MOST_CAVITIES}"),
            );
            continue;
        }
        b.range(
            format!("{path}.reach_min"),
            connector.reach_minutes,
            0.0,
            600.0,
            "min",
        );
        b.range(
            format!("{path}.contact_ohms"),
            connector.contact_ohms,
            0.0,
            1.0,
            "Ω",
        );
        for n in 1..=connector.cavities {
            let (male, female) = (format!("{id}.{n}m"), format!("{id}.{n}f"));
            let used = doc.wires.iter().any(|w| {
                [&w.from, &w.to]
                    .iter()
                    .any(|t| **t == male || **t == female)
            });
            if used {
                let ohms = connector.contact_ohms.unwrap_or(CAVITY_OHMS);
                let (m, f) = (b.node(&male), b.node(&female));
                let mut cavity = conductor(format!("{id}.{n}"), ConductorKind::Cavity, m, f, ohms);
                cavity.connector = Some(id.clone());
                out.push(cavity);
            }
            sides.insert(male);
            sides.insert(female);
        }
    }
    sides
}

fn splices(b: &mut Builder, doc: &CircuitDoc, out: &mut Vec<Conductor>) {
    for (id, splice) in &doc.splices {
        b.range(
            format!("splices.{id}.reach_min"),
            splice.reach_minutes,
            0.0,
            600.0,
            "min",
        );
        // The first wire listed meets the others through the joint.
        let (first, rest) = (b.node(&format!("{id}:first")), b.node(id));
        let mut joint = conductor(
            id.clone(),
            ConductorKind::Splice,
            first,
            rest,
            splice.join.ohms(),
        );
        joint.doubt = splice.join.doubt();
        joint.harness.clone_from(&splice.harness);
        out.push(joint);
    }
}

fn wires(b: &mut Builder, doc: &CircuitDoc, sides: &HashSet<String>, out: &mut Vec<Conductor>) {
    let mut joined: HashSet<&str> = HashSet::new();
    for (n, wire) in doc.wires.iter().enumerate() {
        let path = format!("wires[{n}]");
        let ohms = resistance(b, doc, n);
        let mut ends = Vec::new();
        for (side, end) in [("from", &wire.from), ("to", &wire.to)] {
            let first_at_splice = doc.splices.contains_key(end) && joined.insert(end);
            let name = if first_at_splice {
                format!("{end}:first")
            } else {
                end.clone()
            };
            match b.node_of.get(&name) {
                Some(&node) => ends.push(node),
                None if sides.contains(end) => ends.push(b.node(end)),
                None => {
                    let why = unknown_terminal(doc, end);
                    b.refuse(format!("{path}.{side}"), why);
                    b.mended_by(doc, makeable(doc, end));
                }
            }
        }
        if let [from, to] = ends[..] {
            if from == to {
                b.refuse(
                    format!("{path}.to"),
                    format!("{} starts and ends at {}", wire.id, wire.to),
                );
            }
            let mut c = conductor(wire.id.clone(), ConductorKind::Wire, from, to, ohms);
            c.harness.clone_from(&wire.harness);
            c.ignition_lead = wire.ignition_lead;
            c.area_mm2 = area_mm2(wire);
            out.push(c);
        }
    }
}

/// What a wire ends at can be made where its name says what it would be.
fn makeable(doc: &CircuitDoc, end: &str) -> Option<Mend> {
    let make = Mend::Make {
        point: end.to_owned(),
    };
    match end.split_once('.') {
        Some((id, side)) => {
            let cavity = side.strip_suffix(['m', 'f'])?.parse::<u32>().ok()?;
            let named = doc.connectors.contains_key(id) || numbered(id, "C");
            let fits = (1..=MOST_CAVITIES).contains(&cavity) && !doc.parts.contains_key(id);
            (named && fits).then_some(make)
        }
        None => (numbered(end, "SP") || numbered(end, "G")).then_some(make),
    }
}

/// Whether an id is some letters and a number.
fn numbered(id: &str, letters: &str) -> bool {
    let number = id.strip_prefix(letters);
    number.is_some_and(|n| (1..=3).contains(&n.len()) && n.bytes().all(|b| b.is_ascii_digit()))
}

fn unknown_terminal(doc: &CircuitDoc, end: &str) -> String {
    match end.split_once('.') {
        Some((id, terminal)) => {
            if let Some(kind) = doc.parts.get(id).and_then(|p| kind(&p.kind)) {
                let names: Vec<_> = kind.terminals().iter().map(|t| t.name).collect();
                return format!(
                    "{id} has no terminal {terminal}: expected {}",
                    names.join(", ")
                );
            }
            match doc.connectors.get(id) {
                Some(c) => format!(
                    "{id} has no cavity side {terminal}: expected 1 to {} with m or f, such as {id}.1m",
                    c.cavities
                ),
                None => format!("there is no part or connector {id}"),
            }
        }
        None => format!(
            "“{end}” is no terminal: expected PART.terminal, CONNECTOR.1m, a splice, a ground, or metal:name of a metal with a ground on it"
        ),
    }
}

fn resistance(b: &mut Builder, doc: &CircuitDoc, n: usize) -> f64 {
    let wire = &doc.wires[n];
    let path = format!("wires[{n}]");
    b.range(
        format!("{path}.area_mm2"),
        wire.area_mm2,
        0.05,
        500.0,
        "mm²",
    );
    for (which, end) in wire.capped.iter().enumerate() {
        if !["from", "to"].contains(&end.as_str()) {
            b.refuse(
                format!("{path}.capped[{which}]"),
                format!("“{end}” is no end of a wire: expected from or to"),
            );
        }
    }
    b.range(format!("{path}.length_m"), wire.length_m, 0.0, 200.0, "m");
    b.range(format!("{path}.ohms"), wire.ohms, 0.0, 1e6, "Ω");
    if let Some(awg) = wire.awg {
        b.range(
            format!("{path}.awg"),
            Some(f64::from(awg)),
            -3.0,
            40.0,
            "AWG",
        );
        if wire.area_mm2.is_some() {
            b.refuse(
                format!("{path}.awg"),
                "both awg and area_mm2 are given: expected one of them",
            );
            let mends = [Mend::KeepArea { wire: n }, Mend::KeepGauge { wire: n }];
            b.mended_by(doc, mends);
        }
    }
    let area = area_mm2(wire);
    if wire.ignition_lead.is_some() && area.is_some() {
        b.refuse(
            format!("{path}.lead"),
            "both a size and a kind of lead are given: expected one of them",
        );
    }
    let length_m = wire.length_m.unwrap_or(0.0);
    match (wire.ohms, wire.ignition_lead, area) {
        (Some(ohms), ..) => ohms,
        (None, Some(lead), _) => lead.ohms_per_m() * length_m,
        (None, None, Some(area)) => wire_ohms(area, length_m, 20.0),
        (None, None, None) => 0.0,
    }
}

fn area_mm2(wire: &WireDoc) -> Option<f64> {
    wire.area_mm2.or(wire.awg.map(awg_area_mm2))
}

fn test_points(doc: &CircuitDoc, b: &Builder, parts: &[Part]) -> Vec<TestPoint> {
    let mut out = Vec::new();
    for part in parts {
        for (terminal, node) in part.terminals() {
            out.push(TestPoint {
                id: b.nodes[node].clone(),
                node,
                about: terminal.about.to_owned(),
                reach_minutes: part.reach_minutes,
            });
        }
    }
    for (node, name) in b.nodes.iter().enumerate() {
        let (id, about, reach_minutes) = match name.split_once('.') {
            Some((id, side)) if doc.connectors.contains_key(id) => {
                let half = if side.ends_with('m') {
                    "male"
                } else {
                    "female"
                };
                let about = format!("back of cavity, {half} side");
                (name, about, doc.connectors[id].reach_minutes.unwrap_or(2.0))
            }
            None if doc.splices.contains_key(name) => (
                name,
                "splice, tape opened".to_owned(),
                doc.splices[name].reach_minutes.unwrap_or(15.0),
            ),
            None if doc.grounds.contains_key(name) => (
                name,
                "lug".to_owned(),
                doc.grounds[name].reach_minutes.unwrap_or(1.0),
            ),
            None if name.starts_with("metal:") => (name, "bare metal".to_owned(), 0.5),
            _ => continue,
        };
        out.push(TestPoint {
            id: id.clone(),
            node,
            about,
            reach_minutes,
        });
    }
    out
}
