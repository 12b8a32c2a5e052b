//! The single faults of a circuit, with a grid over their severity.

use cimento_model::circuit::{Circuit, Conductor, ConductorKind, Place};
use cimento_model::faults::ModeSpec;
use cimento_model::faults::{Condition, ConductorMode, Fault, FaultDoc, LeadsTo, Mode};

/// Grid points of severity per factor of ten.
const PER_DECADE: f64 = 2.0;
/// A fault that comes and goes beside one that stays; common practice.
const COMES_AND_GOES: f64 = 0.5;
/// That a machine which comes in for a check is sound, beside all that could be wrong with it, which is 1; common
/// practice.
const SOUND: f64 = 0.5;

/// A place and a mode, with the faults at the grid points of its severity, mildest first.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    /// Where it sits; several for faults that are there together.
    pub places: Vec<Place>,
    pub mode: &'static str,
    /// The faults at each grid point; one point for what has no severity.
    pub grid: Vec<Vec<Fault>>,
    /// Share of belief before anything is seen, over all of its severity.
    pub prior: f64,
}

impl Candidate {
    /// Faults that are there together, as one candidate without a severity of its own.
    pub fn of(faults: &[Fault]) -> Self {
        Self {
            places: faults.iter().flat_map(Fault::places).collect(),
            mode: faults.first().map_or("", |f| f.mode.name()),
            grid: vec![faults.to_vec()],
            prior: 1e-3,
        }
    }

    /// That nothing is wrong at all.
    pub(super) fn sound() -> Self {
        Self {
            places: Vec::new(),
            mode: "sound",
            grid: vec![Vec::new()],
            prior: SOUND,
        }
    }

    /// Whether it says that nothing is wrong.
    pub(super) fn is_sound(&self) -> bool {
        self.places.is_empty()
    }

    /// Whether it joins its place to something else: a short, a leak.
    pub(super) fn leads_elsewhere(&self) -> bool {
        let faults = self.grid.iter().flatten();
        let mut how = faults.filter_map(|f| f.mode.of_conductor());
        how.any(|how| how.leads_to != LeadsTo::Nowhere)
    }

    /// Whether its severity is one axis: it is a single fault.
    pub fn is_single(&self) -> bool {
        self.grid.first().is_some_and(|faults| faults.len() == 1)
    }

    /// Whether some faults are one of its own, at some severity.
    pub fn holds(&self, faults: &[Fault]) -> bool {
        let ([fault], Some([own])) = (faults, self.grid.first().map(Vec::as_slice)) else {
            return false;
        };
        fault.place == own.place
            && fault.mode.name() == own.mode.name()
            && fault.when == own.when
            && fault.mode.target() == own.mode.target()
    }

    /// Severity of some faults as an axis: the first one's, 1 for what has none, and for a share of
    /// strands what is left of the wire.
    pub fn severity(faults: &[Fault]) -> f64 {
        let first = faults.first().map(|f| f.mode);
        match first.and_then(|m| Some((m, m.severity()?))) {
            Some((mode, severity)) if counts_by_rest(mode) => 1.0 - severity,
            Some((_, severity)) => severity,
            None => 1.0,
        }
    }

    /// The faults half-way (on a logarithmic axis) between two severities.
    pub fn at(&self, a: f64, b: f64) -> Vec<Fault> {
        let middle = (a * b).sqrt();
        let one = |f: &Fault| Fault {
            mode: match counts_by_rest(f.mode) {
                true => f.mode.with_severity(1.0 - middle),
                false => f.mode.with_severity(middle),
            },
            ..f.clone()
        };
        self.grid
            .first()
            .map_or(Vec::new(), |f| f.iter().map(one).collect())
    }

    /// Faults as they may sit along a wire: at either end of it for a single one that takes current out
    /// of the wire or into it, since the wire's own resistance lies on either side; elsewhere as they
    /// are.
    pub fn along(circuit: &Circuit, faults: &[Fault]) -> Vec<Vec<Fault>> {
        let [fault] = faults else {
            return vec![faults.to_vec()];
        };
        let is_wire = matches!(fault.place, Place::Conductor(n)
            if circuit.conductors[n].kind == ConductorKind::Wire);
        let taps = fault.mode.of_conductor().is_some_and(ConductorMode::taps);
        if !(is_wire && taps) {
            return vec![faults.to_vec()];
        }
        let at = |at: f64| {
            vec![Fault {
                at,
                ..fault.clone()
            }]
        };
        vec![at(0.0), at(1.0)]
    }

    /// Share of the whole range of severity, on a logarithmic axis, that lies between two.
    pub fn share(&self, a: f64, b: f64) -> f64 {
        let end = |f: Option<&Vec<Fault>>| f.map_or(1.0, |f| Self::severity(f));
        let whole = (end(self.grid.last()) / end(self.grid.first())).ln().abs();
        if whole == 0.0 {
            1.0
        } else {
            (b / a).ln().abs() / whole
        }
    }
}

/// Every single fault of a circuit; with a condition, those that are there only under it too.
pub fn candidates(circuit: &Circuit, condition: Option<Condition>) -> Vec<Candidate> {
    let mut out = Vec::new();
    let beside = neighbours(circuit);
    for place in circuit.places() {
        let others: Vec<&str> = beside
            .iter()
            .filter(|(p, _)| *p == place)
            .map(|(_, other)| circuit.place_id(*other))
            .collect();
        for spec in circuit.modes(place) {
            let doc = FaultDoc {
                place: circuit.place_id(place).to_owned(),
                mode: spec.name.to_owned(),
                ..FaultDoc::default()
            };
            let faults: Vec<Fault> = match spec.needs_other() {
                false => read(circuit, &doc).into_iter().collect(),
                true => {
                    let with = |other: &&str| FaultDoc {
                        other: Some((*other).to_owned()),
                        ..doc.clone()
                    };
                    let docs = others.iter().map(with);
                    docs.filter_map(|doc| read(circuit, &doc)).collect()
                }
            };
            for fault in &faults {
                let often = spec.prior / faults.len() as f64;
                let over = over_severity(circuit, spec, fault, often, condition);
                out.extend(over);
            }
        }
    }
    let total: f64 = out.iter().map(|c| c.prior).sum();
    for candidate in &mut out {
        candidate.prior /= total;
    }
    out
}

/// A fault of which a place is capable; a metal that is not there cannot be touched.
fn read(circuit: &Circuit, doc: &FaultDoc) -> Option<Fault> {
    Fault::read(circuit, doc, "candidate").ok()
}

/// Wires and cavities that lie beside each other, each pair once: cavities next to each other in one
/// connector, the wires that come out of such two on one side, and high-voltage leads to parts of one kind. Two that meet elsewhere are so rare
/// that common practice looks for them last.
fn neighbours(circuit: &Circuit) -> Vec<(Place, Place)> {
    let is_cavity = |c: &Conductor| c.kind == ConductorKind::Cavity;
    let all = circuit.conductors.iter().enumerate();
    let cavities: Vec<(usize, &Conductor)> = all.clone().filter(|(_, c)| is_cavity(c)).collect();
    let wires = |node: usize| {
        let wires = all.clone().filter(|(_, c)| c.kind == ConductorKind::Wire);
        wires.filter_map(move |(n, c)| (c.a == node || c.b == node).then_some(n))
    };
    let mut out = Vec::new();
    for pair in cavities.windows(2) {
        let [(n, a), (m, b)] = pair else { continue };
        if a.connector != b.connector {
            continue;
        }
        out.push((Place::Conductor(*n), Place::Conductor(*m)));
        for (x, y) in [(a.a, b.a), (a.b, b.b)] {
            for v in wires(x) {
                let beside = wires(y).filter(|w| *w != v);
                out.extend(
                    beside
                        .map(|w| (v.min(w), v.max(w)))
                        .map(|(v, w)| (Place::Conductor(v), Place::Conductor(w))),
                );
            }
        }
    }
    let leads = all
        .filter(|(_, c)| c.ignition_lead.is_some())
        .map(|(n, _)| n);
    let leads: Vec<usize> = leads.collect();
    for (at, &a) in leads.iter().enumerate() {
        let others = leads[at + 1..].iter().filter(|b| circuit.can_cross(a, **b));
        out.extend(others.map(|&b| (Place::Conductor(a), Place::Conductor(b))));
    }
    out.sort();
    out.dedup();
    out
}

/// A fault over its severity, and again for the condition under which it may come and go.
fn over_severity(
    circuit: &Circuit,
    spec: &'static ModeSpec,
    fault: &Fault,
    often: f64,
    condition: Option<Condition>,
) -> Vec<Candidate> {
    let mut out = Vec::new();
    let doubt = match fault.place {
        Place::Conductor(n) => circuit.conductors[n].doubt,
        _ => 1.0,
    };
    let severities = spec.severity.map(|s| grid(s.least, s.most, fault.mode));
    for when in std::iter::once(Condition::Always).chain(condition) {
        // A conductor that barely reaches is there until it is pulled.
        let only = fault.mode.of_conductor().and_then(|how| how.shows_only);
        if only.is_some() && when == Condition::Always {
            continue;
        }
        let at = |mode: Mode| {
            vec![Fault {
                mode,
                when,
                ..fault.clone()
            }]
        };
        let grid = match &severities {
            None => vec![at(fault.mode)],
            Some(all) => all
                .iter()
                .map(|s| at(fault.mode.with_severity(*s)))
                .collect(),
        };
        let comes = match when {
            Condition::Always => 1.0,
            _ => COMES_AND_GOES,
        };
        out.push(Candidate {
            places: fault.places().collect(),
            mode: spec.name,
            grid,
            prior: often * comes * doubt,
        });
    }
    out
}

/// Whether what is left, and not what is gone, is the axis of a mode's severity.
fn counts_by_rest(mode: Mode) -> bool {
    mode.of_conductor().is_some_and(|how| how.by_rest)
}

/// Points from least to most, evenly on a logarithmic axis. A share of strands is counted by what
/// is left of the wire.
fn grid(least: f64, most: f64, mode: Mode) -> Vec<f64> {
    let by_rest = counts_by_rest(mode);
    let (a, b) = if by_rest {
        (1.0 - least, 1.0 - most)
    } else {
        (least, most)
    };
    let steps = ((b / a).log10().abs() * PER_DECADE).ceil().max(1.0) as usize;
    let point = |n: usize| {
        let at = a * (b / a).powf(n as f64 / steps as f64);
        // Rounding must not carry an end out of the range.
        (if by_rest { 1.0 - at } else { at }).clamp(least, most)
    };
    (0..=steps).map(point).collect()
}
