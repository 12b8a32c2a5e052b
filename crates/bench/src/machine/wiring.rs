//! A circuit in a state, written as a netlist whose elements can be found by place and name.

use cimento_model::stamped::Role;
use cimento_model::stamped::STRAYS;
use cimento_model::stamped::StampedNetlist;
use cimento_solver::{Element, Netlist, Node, Switch, Trigger};

use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::faults::{Effect, Fault, Jump};
use cimento_model::part::{Context, PartState, Riding, Stamp, Turning};
use cimento_model::state::{Engine, OperatingState};
use cimento_model::units::COPPER_PER_KELVIN;
use cimento_parts::{NEEDLES, arc, breakdown_v};

/// Resistance of a jumper lead, in ohms; common practice.
const JUMPER_OHMS: f64 = 0.02;

/// Capacitance of what hangs on either side of a burnt spot, in farads: each spark that jumps it first has
/// to charge that; common practice.
const STUB_F: f64 = 8e-12;

/// An element that is attached once everything else has been added.
struct Stray {
    place: Place,
    name: &'static str,
    element: Element,
}

/// Speed of the crankshaft in revolutions per minute: as the engine runs, or as the starter turns it.
pub(super) fn turning_rpm(
    circuit: &Circuit,
    operating: &OperatingState,
    parts: &[PartState],
) -> f64 {
    if operating.engine == Engine::Running {
        return operating.rpm();
    }
    let starters = circuit.parts.iter().zip(parts);
    let speeds = starters.filter(|(p, _)| p.kind.cranks()).map(|(p, s)| {
        let rpm = s.speed * 30.0 / std::f64::consts::PI;
        rpm.max(p.kind.hand_rpm(p, operating))
    });
    speeds.fold(0.0, f64::max)
}

/// Which half of its period a part is in, and what it carries while ripple is looked at.
#[derive(Debug, Clone, Copy)]
pub(super) struct Half {
    pub up: bool,
    pub riding: Option<Riding>,
}

/// Writes the netlist. `faults` are those that are active in the state.
pub(super) fn wire_up(
    circuit: &Circuit,
    faults: &[Fault],
    operating: &OperatingState,
    parts: &[PartState],
    balanced: &dyn Fn(usize) -> bool,
    half: &dyn Fn(usize) -> Half,
    turning: Option<&Turning>,
) -> StampedNetlist {
    let rpm = turning_rpm(circuit, operating, parts);
    let mut wiring = StampedNetlist::of(circuit);
    let mut strays = Vec::new();
    for n in 0..circuit.conductors.len() {
        let burnt = turning.is_some() && lead_gaps(&mut wiring, circuit, n, faults);
        if !burnt {
            conductor(&mut wiring, &mut strays, circuit, n, faults, operating);
        }
    }
    for (index, (part, state)) in circuit.parts.iter().zip(parts).enumerate() {
        wiring.begin_part();
        if operating.is_apart(circuit, Place::Part(index)) {
            continue;
        }
        let mut stamp = Stamp {
            context: Context {
                index,
                part,
                state: *state,
                operating,
                faults,
                rpm,
            },
            wiring: &mut wiring,
            balanced: balanced(index),
            up: half(index).up,
            riding: half(index).riding,
            turning,
        };
        part.kind.stamp(&mut stamp);
    }
    let battery = Place::Part(0);
    for [a, b] in &operating.jumpers {
        if let (Some(a), Some(b)) = (circuit.node(a), circuit.node(b)) {
            strays.push(Stray {
                place: battery,
                name: "jumper",
                element: Element::resistor(wiring.node(a), wiring.node(b), JUMPER_OHMS),
            });
        }
    }
    for s in &operating.supplies {
        if let (Some(a), Some(b)) = (circuit.node(&s.plus), circuit.node(&s.minus)) {
            strays.push(Stray {
                place: battery,
                name: "supply",
                element: Element::source(wiring.node(a), wiring.node(b), s.volts, s.ohms),
            });
        }
    }
    for stray in strays {
        wiring.attach(stray.place, stray.name, stray.element);
    }
    wiring
}

/// The netlist of one part with nothing around it.
pub(super) fn part_alone(
    circuit: &Circuit,
    faults: &[Fault],
    operating: &OperatingState,
    parts: &[PartState],
    index: usize,
) -> StampedNetlist {
    let mut wiring = StampedNetlist::default();
    wiring.net = Netlist::new();
    wiring.net.reserve_nodes(circuit.nodes.len());
    let part = &circuit.parts[index];
    part.kind.stamp(&mut Stamp {
        context: Context {
            index,
            part,
            state: parts[index],
            operating,
            faults,
            rpm: 0.0,
        },
        wiring: &mut wiring,
        balanced: false,
        up: true,
        riding: None,
        turning: None,
    });
    wiring
}

/// Resistance along a conductor with its faults, in ohms.
pub(super) fn series_ohms(circuit: &Circuit, n: usize, faults: &[Fault]) -> f64 {
    let c = &circuit.conductors[n];
    if other_side(n, faults) != n {
        return f64::INFINITY;
    }
    let length_m = length_m(circuit, &c.id);
    let here = faults.iter().filter(|f| f.place == Place::Conductor(n));
    let series = here.map(|f| f.mode.effect(circuit, c, length_m).series_ohms);
    own_ohms(c.ohms, series.clone()) + series.map(|s| s.max(0.0)).sum::<f64>()
}

/// What a conductor has along the whole of it: a lead of another kind has less, and twice another kind is once.
fn own_ohms(ohms: f64, series: impl Iterator<Item = f64>) -> f64 {
    ohms + series.fold(0.0, f64::min)
}

/// A conductor with its faults, from its `a` end to its `b` end: a stretch of copper, then what
/// is wrong there, and so on.
fn conductor(
    wiring: &mut StampedNetlist,
    strays: &mut Vec<Stray>,
    circuit: &Circuit,
    n: usize,
    faults: &[Fault],
    operating: &OperatingState,
) {
    let c = &circuit.conductors[n];
    let place = Place::Conductor(n);
    let apart = operating.is_apart(circuit, place);
    let ohms = match c.kind {
        _ if apart => f64::INFINITY,
        ConductorKind::Wire if c.ignition_lead.is_none() => {
            c.ohms * (1.0 + COPPER_PER_KELVIN * (operating.temperature_c - 20.0))
        }
        _ => c.ohms,
    };
    let (mut from, to) = (
        wiring.node(c.a),
        wiring.node(circuit.conductors[other_side(n, faults)].b),
    );
    let mut here: Vec<&Fault> = faults.iter().filter(|f| f.place == place).collect();
    here.sort_by(|a, b| a.at.total_cmp(&b.at));
    let length_m = if here.is_empty() {
        0.0
    } else {
        length_m(circuit, &c.id)
    };
    let effects = here.iter().map(|f| f.mode.effect(circuit, c, length_m));
    let ohms = own_ohms(ohms, effects.clone().map(|e| e.series_ohms));
    if effects.clone().all(|e| e.beside.is_none()) {
        // What is only in series needs no node of its own, so the structure stays the same.
        let series: f64 = effects.map(|e| e.series_ohms.max(0.0)).sum();
        wiring.add(
            place,
            "through",
            Role::Conductor,
            Element::resistor(from, to, ohms + series),
        );
        return;
    }
    if let [fault] = here[..]
        && let Effect {
            series_ohms: series,
            beside: Some((beside, target)),
        } = fault.mode.effect(circuit, c, length_m)
        && !apart
    {
        // A stretch, a path beside, a stretch: the star is written as its triangle, which needs no
        // node of its own, so the structure stays the same.
        let (r1, r2) = (ohms * fault.at, ohms * (1.0 - fault.at) + series);
        let (through, [first, second]) = triangle(r1, r2, beside);
        let element = Element::resistor(from, to, through);
        wiring.add(place, "through", Role::Conductor, element);
        let target = wiring.node(target);
        for (name, a, ohms) in [(STRAYS[0], from, first), (STRAYS[1], to, second)] {
            if ohms.is_finite() {
                let (b, siemens) = (target, 1.0 / ohms);
                let element = Element::Conductance { a, b, siemens };
                strays.push(Stray {
                    place,
                    name,
                    element,
                });
            }
        }
        return;
    }
    let mut done = 0.0;
    for fault in here {
        let Effect {
            series_ohms: series,
            beside,
        } = fault.mode.effect(circuit, c, length_m);
        // An open cavity is open as a whole: its stretch before the fault would be the contact.
        let stretch = if apart { 0.0 } else { ohms * (fault.at - done) };
        let mid = wiring.net.node();
        wiring.add(
            place,
            "before",
            Role::Conductor,
            Element::resistor(from, mid, stretch),
        );
        if let Some((ohms, target)) = beside {
            let (a, b, siemens) = (mid, wiring.node(target), 1.0 / ohms);
            wiring.add(
                place,
                "stray",
                Role::Stray,
                Element::Conductance { a, b, siemens },
            );
        }
        from = wiring.net.node();
        wiring.add(
            place,
            "fault",
            Role::Conductor,
            Element::resistor(mid, from, series.max(0.0)),
        );
        done = fault.at;
    }
    let rest = if apart { ohms } else { ohms * (1.0 - done) };
    wiring.add(
        place,
        "through",
        Role::Conductor,
        Element::resistor(from, to, rest),
    );
}

/// Adds a gap that a spark jumps at so many volts, with so many ohms in its way besides the arc's.
fn gap(
    wiring: &mut StampedNetlist,
    place: Place,
    name: &'static str,
    role: Role,
    (a, b): (Node, Node),
    (breakdown_v, ohms): (f64, f64),
) {
    let element = wiring.add(place, name, role, Element::open(a, b));
    let (arc, mut trigger) = arc(breakdown_v);
    // What a spark leaves in a burnt channel or a pinhole does not hold the next one off.
    if let Trigger::Gap { rests_s, .. } = &mut trigger {
        *rests_s = 0.0;
    }
    wiring.motion.switches.push(Switch {
        element,
        closed: false,
        ohms: arc.1 + ohms,
        volts: arc.0,
        trigger,
    });
}

/// Where a spark has to jump along a high-voltage lead or out of it, while the machine is looked at in
/// time. True when the gap stands in place of the lead.
fn lead_gaps(wiring: &mut StampedNetlist, circuit: &Circuit, n: usize, faults: &[Fault]) -> bool {
    let c = &circuit.conductors[n];
    let place = Place::Conductor(n);
    let mut burnt = false;
    for fault in faults.iter().filter(|f| f.place == place) {
        let far = circuit.conductors[other_side(n, faults)].b;
        let (from, to) = (wiring.node(c.a), wiring.node(far));
        let mm = fault.mode.severity().unwrap_or(0.0);
        match fault.mode.of_conductor().and_then(|how| how.jump) {
            Some(Jump::Along) => {
                let needs = (breakdown_v(mm, 1.0, NEEDLES), c.ohms);
                gap(wiring, place, "through", Role::Conductor, (from, to), needs);
                for (name, a) in [("hither stub", from), ("far stub", to)] {
                    let b = wiring.node(c.near_metal.unwrap_or(0));
                    let stub = Element::Capacitor {
                        a,
                        b,
                        farads: STUB_F,
                    };
                    wiring.add(place, name, Role::Stray, stub);
                }
                burnt = true;
            }
            Some(Jump::Out) => {
                let boot = if fault.at < 0.5 { from } else { to };
                let needs = (breakdown_v(mm, 1.0, NEEDLES), 0.0);
                let ends = (boot, wiring.node(fault.mode.metal().unwrap_or(0)));
                gap(wiring, place, "pinhole", Role::Stray, ends, needs);
            }
            None => {}
        }
    }
    burnt
}

/// The star of two stretches and a path beside as a triangle: resistance along, and from either end
/// to where the path leads, in ohms.
fn triangle(r1: f64, r2: f64, beside: f64) -> (f64, [f64; 2]) {
    if r1 == 0.0 || r2.is_infinite() {
        return (r1 + r2, [r1 + beside, f64::INFINITY]);
    }
    let sum = r1 * r2 + r2 * beside + beside * r1;
    (
        sum / beside,
        [if r2 > 0.0 { sum / r2 } else { f64::INFINITY }, sum / r1],
    )
}

/// The conductor whose far side a conductor leads to: its own, unless two cavities are crossed.
fn other_side(n: usize, faults: &[Fault]) -> usize {
    for fault in faults {
        if let (Place::Conductor(here), Some(other)) = (fault.place, fault.mode.crossed_with()) {
            if here == n {
                return other;
            }
            if other == n {
                return here;
            }
        }
    }
    n
}

fn length_m(circuit: &Circuit, wire: &str) -> f64 {
    let found = circuit.doc.wires.iter().find(|w| w.id == wire);
    found.and_then(|w| w.length_m).unwrap_or(0.0)
}
