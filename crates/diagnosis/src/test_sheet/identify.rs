//! Which of several unmarked leads is what, by readings alone.
//!
//! What stands behind a lead is told from the others by what is read between them, and to what is marked. Leads that no
//! reading tells apart are one class; a way of naming all of them gives each lead a class, and what has been read leaves
//! some ways possible.

use std::collections::BTreeMap;
use std::sync::Arc;

use cimento_bench::instruments::{Function, Meter, Range, take_with, value_with};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Circuit, ConductorKind, Problem};
use cimento_model::state::OperatingState;
use cimento_model::units::Unit;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Choice, Row, TestSheet};

/// Fewest and most leads.
const FEWEST: usize = 2;
const MOST: usize = 8;
/// Readings are told apart from so far on, as a share of the larger and in the unit of the meter; what a meter and its
/// leads add lies well within.
const APART_SHARE: f64 = 0.05;
const APART: f64 = 0.3;
/// What has more ohms than this joins nothing as a wire does.
const JOINS_OHMS: f64 = 1.0;

/// The leads of one half of a connector, unplugged and without their marks.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Identify {
    pub connector: String,
    pub half: Half,
}

/// A half of a connector.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
pub enum Half {
    #[serde(rename = "m")]
    Male,
    #[serde(rename = "f")]
    Female,
}

impl Half {
    /// As test points end in it.
    pub fn letter(self) -> char {
        match self {
            Self::Male => 'm',
            Self::Female => 'f',
        }
    }
}

/// Leads without a name.
#[derive(Debug, Clone, PartialEq)]
pub struct Unmarked {
    /// The test point of each lead, by its letter: "a" first.
    pub points: Vec<String>,
    /// The class of each lead.
    pub class: Vec<usize>,
    /// Points that are marked, and can be measured to: the metal.
    pub marked: Vec<String>,
    /// Which meter they are measured with.
    pub meter: u64,
}

impl Unmarked {
    /// The letter of a lead, by position.
    pub fn letter(n: usize) -> String {
        char::from_u32('a' as u32 + n as u32).map_or_else(String::new, String::from)
    }

    /// The test point behind a letter, or a marked one by its own name.
    pub fn point<'a>(&'a self, said: &'a str) -> Option<&'a str> {
        self.lead(said)
            .map(|n| self.points[n].as_str())
            .or_else(|| self.marked.iter().map(String::as_str).find(|m| *m == said))
    }

    /// The meter at hand, with its leads as they are.
    pub(crate) fn own_meter(&self) -> Meter {
        Meter {
            seed: self.meter,
            ..Meter::default()
        }
    }

    /// The position of a lead, by its letter.
    pub fn lead(&self, said: &str) -> Option<usize> {
        (0..self.points.len()).find(|n| Self::letter(*n) == said)
    }

    /// Everything that can be measured at, as it is called.
    pub fn called(&self) -> Vec<String> {
        let letters = (0..self.points.len()).map(Self::letter);
        letters.chain(self.marked.iter().cloned()).collect()
    }
}

/// What is read between every two of some points: `[red][black]`, in the unit of the function.
pub type Between = Vec<Vec<f64>>;

/// Reads between every two points with a meter, in one of its ranges or in the one that fits.
///
/// # Errors
/// [`BenchError`] when the machine has no solution with the meter in it.
pub(crate) fn between(
    bench: &Bench,
    meter: &Meter,
    (function, range): (Function, Option<Range>),
    points: &[String],
) -> Result<Between, BenchError> {
    let read = |red: &String, black: &String| {
        let ends = (Some(red.as_str()), Some(black.as_str()));
        let value = match range {
            _ if red == black => return Ok(0.0),
            None => value_with(meter, bench, function, ends.0, ends.1)?.0,
            Some(_) => {
                take_with(meter, bench, function, range, ends.0, ends.1)?
                    .shown
                    .value
            }
        };
        Ok(value.number())
    };
    let row = |red: &String| points.iter().map(|black| read(red, black)).collect();
    points.iter().map(row).collect()
}

/// Two readings that a meter does not tell apart.
pub(crate) fn alike(a: f64, b: f64) -> bool {
    if a.is_infinite() || b.is_infinite() {
        return a == b;
    }
    (a - b).abs() <= APART + APART_SHARE * a.abs().max(b.abs())
}

/// The classes of the first `leads` points: two are of one class where exchanging them changes no reading.
fn classes(read: &Between, leads: usize) -> Vec<usize> {
    let same = |i: usize, j: usize| {
        let others = (0..read.len()).filter(|k| *k != i && *k != j);
        let mut others =
            others.map(|k| alike(read[i][k], read[j][k]) && alike(read[k][i], read[k][j]));
        others.all(|same| same) && alike(read[i][j], read[j][i])
    };
    let mut first: Vec<usize> = Vec::new();
    (0..leads)
        .map(|i| match first.iter().position(|&j| same(i, j)) {
            Some(class) => class,
            None => {
                first.push(i);
                first.len() - 1
            }
        })
        .collect()
}

/// The ways of giving leads their classes.
pub(crate) struct Ways {
    /// The class of each lead, for every way.
    pub ways: Vec<Vec<usize>>,
    /// A lead of each class, two where it has more than one.
    of_class: Vec<[usize; 2]>,
    leads: usize,
}

impl Ways {
    /// All of them.
    pub fn all(unmarked: &Unmarked) -> Self {
        let class = &unmarked.class;
        let mut left: Vec<usize> = Vec::new();
        for &c in class {
            left.resize(left.len().max(c + 1), 0);
            left[c] += 1;
        }
        let of_class = (0..left.len()).map(|c| {
            let mut of = (0..class.len()).filter(|n| class[*n] == c);
            let first = of.next().unwrap_or(0);
            [first, of.next().unwrap_or(first)]
        });
        let of_class = of_class.collect();
        let mut ways = Vec::new();
        deal(&mut left, &mut Vec::new(), class.len(), &mut ways);
        Self {
            ways,
            of_class,
            leads: class.len(),
        }
    }

    /// What would be read between two points if the leads were so; `read` is of the machine as it is.
    pub fn predicted(&self, way: &[usize], read: &Between, [red, black]: [usize; 2]) -> f64 {
        let stands = |point: usize, nth: usize| match point < self.leads {
            true => self.of_class[way[point]][nth],
            false => point,
        };
        let twins = red < self.leads && black < self.leads && way[red] == way[black];
        read[stands(red, 0)][stands(black, usize::from(twins))]
    }

    /// Leaves those that a reading allows.
    pub fn keep(&mut self, read: &Between, points: [usize; 2], shown: f64) {
        let mut ways = std::mem::take(&mut self.ways);
        ways.retain(|way| alike(self.predicted(way, read, points), shown));
        self.ways = ways;
    }

    /// What each lead may still be.
    pub fn left(&self) -> Vec<Vec<usize>> {
        let of = |lead: usize| {
            let mut out: Vec<usize> = self.ways.iter().map(|way| way[lead]).collect();
            out.sort_unstable();
            out.dedup();
            out
        };
        (0..self.leads).map(of).collect()
    }

    /// The pair whose reading tells most, in bits of what would be left, but for those that were read.
    fn best(&self, read: &Between, taken: &[[usize; 2]]) -> Option<[usize; 2]> {
        let mut best: Option<(f64, [usize; 2])> = None;
        for red in 0..read.len() {
            // Some things read otherwise the other way round.
            for black in (0..read.len()).filter(|black| {
                let of_a_lead = red < self.leads || *black < self.leads;
                *black != red && of_a_lead && !taken.contains(&[red, *black])
            }) {
                let mut groups: BTreeMap<u64, usize> = BTreeMap::new();
                for way in &self.ways {
                    let value = self.predicted(way, read, [red, black]);
                    *groups.entry(value.to_bits()).or_default() += 1;
                }
                let left = left_bits(&groups);
                let none = (self.ways.len() as f64).log2();
                if left < best.map_or(none, |(bits, _)| bits) - 1e-9 {
                    best = Some((left, [red, black]));
                }
            }
        }
        best.map(|(_, pair)| pair)
    }
}

/// Bits that are left on average by a reading that shows one of some values, each with how many ways show it: all that it
/// does not tell from the value shown.
fn left_bits(groups: &BTreeMap<u64, usize>) -> f64 {
    let value = |bits: &u64| f64::from_bits(*bits);
    let left = |shown: f64| -> usize {
        let stay = groups.iter().filter(|(bits, _)| alike(value(bits), shown));
        stay.map(|(_, n)| n).sum()
    };
    let all: usize = groups.values().sum();
    let bits = groups
        .iter()
        .map(|(bits, n)| *n as f64 * (left(value(bits)) as f64).log2());
    bits.sum::<f64>() / all as f64
}

fn deal(left: &mut [usize], way: &mut Vec<usize>, leads: usize, out: &mut Vec<Vec<usize>>) {
    if way.len() == leads {
        out.push(way.clone());
        return;
    }
    for class in 0..left.len() {
        if left[class] == 0 {
            continue;
        }
        left[class] -= 1;
        way.push(class);
        deal(left, way, leads, out);
        way.pop();
        left[class] += 1;
    }
}

/// The ways that all readings together leave: more than one where two things behind the leads are alike.
pub(crate) fn left_by_all(unmarked: &Unmarked, read: &Between) -> Ways {
    let mut ways = Ways::all(unmarked);
    for red in 0..unmarked.points.len() {
        for black in (0..read.len()).filter(|b| *b != red) {
            ways.keep(read, [red, black], read[red][black]);
        }
    }
    ways
}

/// The pairs of a way to go that reads what tells most next, with what each shows.
pub(crate) fn best_way(unmarked: &Unmarked, read: &Between) -> Vec<([usize; 2], f64)> {
    let all = left_by_all(unmarked, read).ways.len();
    let mut ways = Ways::all(unmarked);
    let (mut out, mut taken) = (Vec::new(), Vec::new());
    while ways.ways.len() > all {
        let Some(pair) = ways.best(read, &taken) else {
            break;
        };
        let [red, black] = pair;
        let shown = read[red][black];
        let before = ways.ways.len();
        ways.keep(read, pair, shown);
        taken.push(pair);
        // What might have told something, and of these leads does not, is not needed.
        if ways.ways.len() < before {
            out.push((pair, shown));
        }
    }
    out
}

/// The readings that are enough to tell the leads of a sheet apart, each the one that tells most next, with what it shows
/// in ohms; none for a sheet of another kind.
///
/// # Errors
/// [`BenchError`] when the machine has no solution.
pub fn shortest_way(
    circuit: &Arc<Circuit>,
    sheet: &TestSheet,
) -> Result<Vec<([String; 2], f64)>, BenchError> {
    let Some(unmarked) = &sheet.leads else {
        return Ok(Vec::new());
    };
    let mut bench = Bench::new(circuit, &[])?;
    bench.set(sheet.state.clone())?;
    let all = [unmarked.points.clone(), unmarked.marked.clone()].concat();
    let meter = unmarked.own_meter();
    let read = between(&bench, &meter, (sheet.function, None), &all)?;
    let called = unmarked.called();
    let way = best_way(unmarked, &read).into_iter();
    let named = way.map(|(pair, ohms)| (pair.map(|n| called[n].clone()), ohms));
    Ok(named.collect())
}

/// The state in which the leads of a connector are measured.
fn unplugged(circuit: &Circuit, connector: &str) -> OperatingState {
    let mut state = OperatingState::at_rest(circuit);
    state.unplugged = vec![connector.to_owned()];
    state
}

/// What stands behind a lead, in words.
fn behind(bench: &Bench, point: &str) -> String {
    let circuit = &bench.circuit;
    let node = circuit.test_point(point).map_or(0, |p| p.node);
    let last = bench.settled().points.last();
    let near = last.map_or_else(|| vec![node], |p| p.joined(node, JOINS_OHMS));
    let metal = circuit.conductors.iter().any(|c| {
        matches!(c.kind, ConductorKind::Ground | ConductorKind::Mount)
            && (near.contains(&c.a) || near.contains(&c.b))
    });
    let parts = circuit.parts.iter().filter(|p| !p.kind.is_source());
    let at = parts.flat_map(|part| {
        let terminals = part.terminals().filter(|(_, node)| near.contains(node));
        terminals.map(|(terminal, _)| format!("{}, terminal {}", part.title(), terminal.name))
    });
    let mut out: Vec<String> = at.collect();
    if metal {
        out = vec!["ground".to_owned()];
    }
    if out.is_empty() {
        out.push("battery or nothing".to_owned());
    }
    out.join("; ")
}

/// The bench on which the leads of a connector are measured, the test points of its leads in the order of its cavities,
/// and what is marked.
fn leads_of(
    circuit: &Arc<Circuit>,
    asked: &Identify,
) -> Result<(Bench, Vec<String>, Vec<String>), BenchError> {
    let mut bench = Bench::new(circuit, &[])?;
    bench.set(unplugged(circuit, &asked.connector))?;
    let cavities = circuit.doc.connectors.get(&asked.connector);
    let cavities = cavities.map_or(0, |c| c.cavities);
    let half = asked.half.letter();
    let points = (1..=cavities).map(|n| format!("{}.{n}{half}", asked.connector));
    let wired = |point: &String| {
        let node = circuit.test_point(point).map(|p| p.node);
        let of_wire = |node: usize| {
            let mut wires = circuit.conductors.iter();
            wires.any(|c| c.kind == ConductorKind::Wire && (c.a == node || c.b == node))
        };
        node.is_some_and(of_wire)
    };
    let points = points.filter(wired).collect();
    let metals = circuit
        .test_points
        .iter()
        .filter(|p| p.id.starts_with("metal:"));
    let metals = metals.map(|p| p.id.clone()).collect();
    Ok((bench, points, metals))
}

/// The sheet of the leads of a connector.
///
/// # Errors
/// Why there is nothing to identify there, with its path.
pub(crate) fn identification(
    circuit: &Arc<Circuit>,
    seed: u64,
    asked: &Identify,
) -> Result<TestSheet, Problem> {
    if !circuit.doc.connectors.contains_key(&asked.connector) {
        let text = format!("there is no connector {}", asked.connector);
        return Err(Problem::refused("task.connector", text));
    }
    let unsolved = |e: BenchError| Problem::refused("circuit", e.to_string());
    let (bench, points, marked) = leads_of(circuit, asked).map_err(unsolved)?;
    let leads = points.len();
    if !(FEWEST..=MOST).contains(&leads) {
        let text = format!("expected {FEWEST} to {MOST} leads on that half: it has {leads}");
        return Err(Problem::refused("task.connector", text));
    }
    let points = shuffled(points, seed);
    let all = [points.clone(), marked.clone()].concat();
    let by = |meter: &Meter| between(&bench, meter, (Function::OHMS, None), &all);
    // What the papers say is read by a meter that is right, and what can be told apart by the one at hand.
    let read = by(&Meter::default()).map_err(unsolved)?;
    let own = Meter {
        seed,
        ..Meter::default()
    };
    let class_of = classes(&by(&own).map_err(unsolved)?, leads);
    let count = class_of.iter().max().map_or(0, |most| most + 1);
    if count < FEWEST {
        let text = "no reading tells the leads of that half apart: choose another";
        return Err(Problem::refused("task.connector", text.to_owned()));
    }
    let named = points.iter().map(|point| behind(&bench, point));
    let mut choices: Vec<(usize, String)> = class_of.iter().copied().zip(named).collect();
    choices.sort();
    let mut texts: Vec<Vec<String>> = vec![Vec::new(); count];
    for (class, text) in choices {
        texts[class].push(text);
    }
    let texts: Vec<String> = texts.into_iter().map(|of| together(&of)).collect();
    // The order in which they are offered says nothing.
    let mut order: Vec<usize> = (0..count).collect();
    order.sort_by_key(|class| &texts[*class]);
    let offered = order.iter().enumerate().map(|(n, class)| Choice {
        word: format!("{}", n + 1),
        text: texts[*class].clone(),
        spec: spec(&read, &class_of, *class, &texts, &marked),
        joined: false,
    });
    let offered: Vec<Choice> = offered.collect();
    let class: Vec<usize> = class_of
        .iter()
        .map(|c| order.iter().position(|o| o == c).unwrap_or(0))
        .collect();
    let row = |n: usize| Row {
        title: Unmarked::letter(n),
        points: None,
        about: String::new(),
        expects: String::new(),
        limit: 0.0,
        is: vec![class[n]],
        faulty: false,
        reads: String::new(),
        hangs_with: Vec::new(),
    };
    Ok(TestSheet {
        about: format!(
            "A plug with {leads} leads that nobody has marked, apart and off the machine’s other half: measure between them, and say what each is."
        ),
        choices: offered,
        rows: (0..leads).map(row).collect(),
        function: Function::OHMS,
        state: unplugged(circuit, &asked.connector),
        laid_out: true,
        leads: Some(Unmarked {
            points,
            class,
            marked,
            meter: seed,
        }),
    })
}

/// What the papers say that is read from the leads of a class: to each other, to other leads and to what is marked.
fn spec(
    read: &Between,
    class_of: &[usize],
    class: usize,
    texts: &[String],
    marked: &[String],
) -> String {
    let of = |c: usize| (0..class_of.len()).filter(move |n| class_of[*n] == c);
    let Some(lead) = of(class).next() else {
        return String::new();
    };
    let mut out = Vec::new();
    if let Some(twin) = of(class).nth(1)
        && read[lead][twin].is_finite()
    {
        let between = match of(class).count() {
            2 => "from one to the other",
            _ => "between any two",
        };
        out.push(format!("{} {between}", shows(read[lead][twin])));
    }
    for (other, text) in texts.iter().enumerate().filter(|(c, _)| *c != class) {
        // What both have to metal is said there.
        let by_metal = |there: usize| {
            let mut metals = class_of.len()..read.len();
            metals.any(|m| read[lead][m].is_finite() && read[there][m].is_finite())
        };
        if let Some(there) = of(other).next()
            && read[lead][there].is_finite()
            && !by_metal(there)
        {
            out.push(format!("{} to {text}", shows(read[lead][there])));
        }
    }
    for (n, metal) in marked.iter().enumerate() {
        let ohms = read[lead][class_of.len() + n];
        if ohms.is_finite() {
            out.push(format!("{} to {metal}", shows(ohms)));
        }
    }
    match out.is_empty() {
        true => "open to everything here".to_owned(),
        false => out.join("; "),
    }
}

/// "Charge winding, terminal 1 or 2": what leads of one class are, none of them more than another.
fn together(of: &[String]) -> String {
    let Some(first) = of.first() else {
        return String::new();
    };
    let stem = |text: &String| text.rsplit_once(' ').map(|(stem, _)| stem.to_owned());
    let last = |text: &String| text.rsplit_once(' ').map(|(_, last)| last.to_owned());
    let same = of.iter().all(|text| stem(text) == stem(first));
    match (of.len(), stem(first)) {
        (1, _) => first.clone(),
        (_, Some(stem)) if same => {
            let lasts: Vec<String> = of.iter().filter_map(last).collect();
            format!("{stem} {}", lasts.join(" or "))
        }
        _ => of.join(" or "),
    }
}

/// In an order that says nothing of where they were.
fn shuffled(mut points: Vec<String>, seed: u64) -> Vec<String> {
    let mut mixed = seed;
    for byte in points.iter().flat_map(|p| p.bytes()) {
        mixed = (mixed ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
    }
    for n in (1..points.len()).rev() {
        // SplitMix64.
        mixed = mixed.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = mixed;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^= z >> 31;
        points.swap(n, (z % (n as u64 + 1)) as usize);
    }
    points
}

/// What a reading shows, in words.
pub(crate) fn shows(ohms: f64) -> String {
    match ohms.is_finite() {
        true => cimento_model::units::Quantity::Number(ohms).text(Unit::Ohm),
        false => cimento_model::units::Quantity::OverLimit.text(Unit::Ohm),
    }
}
