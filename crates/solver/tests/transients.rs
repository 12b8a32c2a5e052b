//! Transients against their closed forms, and energy that nobody loses.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::ops::ControlFlow;

use cimento_solver::{
    Element, ElementId, Flip, Motion, Netlist, Shape, Solution, Solver, Spares, Start, Switch,
    Transient, Trigger,
};

/// One instant.
struct Sample {
    at_s: f64,
    solution: Solution,
}

fn watch(
    settings: Transient,
    net: &Netlist,
    motion: &Motion,
    initial: &[(ElementId, f64)],
) -> (Vec<Sample>, Vec<Flip>) {
    let op = Solver::new().operating_point(net).unwrap();
    let start = Start {
        stored: initial.to_vec(),
    };
    let mut samples = Vec::new();
    let flips = settings
        .run(
            net,
            motion,
            (&op, &start),
            &Spares::default(),
            &mut |at_s, solution| {
                samples.push(Sample {
                    at_s,
                    solution: solution.clone(),
                });
                std::ops::ControlFlow::Continue(())
            },
        )
        .unwrap();
    (samples, flips)
}

fn run(net: &Netlist, until_s: f64, initial: &[(ElementId, f64)]) -> Vec<Sample> {
    let settings = Transient {
        until_s,
        step_s: until_s / 50.0,
        tolerance: 1e-5,
        event_s: 1e-9,
    };
    watch(settings, net, &Motion::default(), initial).0
}

#[test]
fn a_capacitor_charges_through_a_resistor() {
    let (volts, ohms, farads) = (12.0, 1000.0, 1e-6);
    let mut net = Netlist::new();
    let (zero, top, mid) = (net.zero(), net.node(), net.node());
    net.add(Element::source(top, zero, volts, 0.0));
    net.add(Element::resistor(top, mid, ohms));
    net.add(Element::Capacitor {
        a: mid,
        b: zero,
        farads,
    });
    for s in run(&net, 5e-3, &[]) {
        let exact = volts * (1.0 - (-s.at_s / (ohms * farads)).exp());
        let off = (s.solution.voltage(mid) - exact).abs();
        assert!(off < 1e-3, "at {} s: {off} V off", s.at_s);
    }
}

#[test]
fn a_current_builds_up_in_an_inductor() {
    let (volts, ohms, henries) = (12.0, 1.5, 8e-3);
    let mut net = Netlist::new();
    let (zero, top, mid) = (net.zero(), net.node(), net.node());
    net.add(Element::source(top, zero, volts, 0.0));
    net.add(Element::resistor(top, mid, ohms));
    let coil = net.add(Element::Inductor {
        a: mid,
        b: zero,
        henries,
    });
    for s in run(&net, 20e-3, &[]) {
        let exact = volts / ohms * (1.0 - (-s.at_s * ohms / henries).exp());
        let off = (s.solution.current(coil) - exact).abs();
        assert!(off < 1e-3, "at {} s: {off} A off", s.at_s);
    }
}

#[test]
fn a_coil_and_a_condenser_ring_and_keep_their_energy() {
    let (henries, farads, amps) = (8e-3, 0.22e-6, 3.0);
    let mut net = Netlist::new();
    let (zero, top) = (net.zero(), net.node());
    let coil = net.add(Element::Inductor {
        a: top,
        b: zero,
        henries,
    });
    net.add(Element::Capacitor {
        a: top,
        b: zero,
        farads,
    });
    let w = 1.0 / (henries * farads).sqrt();
    let settings = Transient {
        until_s: 2.0 * std::f64::consts::TAU / w,
        step_s: 2e-6,
        tolerance: 1e-5,
        event_s: 1e-9,
    };
    let (samples, _) = watch(settings, &net, &Motion::default(), &[(coil, amps)]);
    let whole = henries * amps * amps / 2.0;
    for s in &samples {
        // i = I·cos(wt); the capacitor takes −I·sin(wt)/(w·C).
        let off = (s.solution.current(coil) - amps * (w * s.at_s).cos()).abs();
        assert!(off < 0.01 * amps, "at {} s: {off} A off", s.at_s);
        let (i, v) = (s.solution.current(coil), s.solution.voltage(top));
        let energy = henries * i * i / 2.0 + farads * v * v / 2.0;
        assert!(
            (energy / whole - 1.0).abs() < 0.01,
            "{energy} J of {whole} J at {} s",
            s.at_s
        );
    }
    // Energy of the coil becomes that of the capacitor: V = I·√(L/C), some 570 V.
    let peak = samples
        .iter()
        .map(|s| s.solution.voltage(top).abs())
        .fold(0.0, f64::max);
    assert!(
        (peak / (amps * (henries / farads).sqrt()) - 1.0).abs() < 0.01,
        "{peak} V"
    );
}

#[test]
fn at_an_operating_point_a_capacitor_is_open_and_an_inductor_a_short() {
    let mut net = Netlist::new();
    let (zero, top, mid) = (net.zero(), net.node(), net.node());
    net.add(Element::source(top, zero, 12.0, 1.0));
    let coil = net.add(Element::Inductor {
        a: top,
        b: mid,
        henries: 1.0,
    });
    let gap = net.add(Element::Capacitor {
        a: mid,
        b: zero,
        farads: 1e-6,
    });
    net.add(Element::resistor(mid, zero, 5.0));
    let op = Solver::new().operating_point(&net).unwrap();
    assert!((op.current(coil) - 2.0).abs() < 1e-6 && op.current(gap) == 0.0);
}

/// Two windings on one core, 1 to 10: a step of 10 V on the first gives `10·k·√(L2/L1)` on the open
/// second at once, and the first draws `10/L1·t`.
#[test]
fn an_open_second_winding_shows_its_share_of_the_first() {
    let (k, one, two) = (0.95, 8e-3, 0.8);
    let mut net = Netlist::new();
    let (zero, top, mid, out) = (net.zero(), net.node(), net.node(), net.node());
    net.add(Element::source(top, zero, 10.0, 0.0));
    net.add(Element::resistor(top, mid, 0.001));
    let first = net.add(Element::Inductor {
        a: mid,
        b: zero,
        henries: one,
    });
    let second = net.add(Element::Inductor {
        a: out,
        b: zero,
        henries: two,
    });
    net.couple(first, second, k);
    net.insulate(out);
    // The insulation lets the second winding follow within a nanosecond.
    for s in run(&net, 1e-3, &[]).iter().filter(|s| s.at_s > 20e-9) {
        let out = s.solution.voltage(out);
        let exact = 10.0 * k * (two / one).sqrt();
        assert!(
            (out - exact).abs() < 1e-3 * exact,
            "{out} V, expected {exact} V at {} s",
            s.at_s
        );
        let (amps, exact) = (s.solution.current(first), 10.0 / one * s.at_s);
        assert!(
            (amps - exact).abs() < 1e-3 * exact.max(0.1),
            "{amps} A, expected {exact} A"
        );
    }
}

/// A condenser charged through a resistor jumps a gap each time it reaches its breakdown, and the arc
/// goes out when the condenser is empty: `t = R·C·ln((V − V0)/(V − Vb))` from one spark to the next.
#[test]
fn a_gap_breaks_down_and_its_arc_goes_out() {
    let (volts, ohms, farads, breakdown, arc) = (1000.0, 100_000.0, 1e-9, 800.0, 50.0);
    let mut net = Netlist::new();
    let (zero, top, mid) = (net.zero(), net.node(), net.node());
    net.add(Element::source(top, zero, volts, 0.0));
    net.add(Element::resistor(top, mid, ohms));
    net.add(Element::Capacitor {
        a: mid,
        b: zero,
        farads,
    });
    let gap = net.add(Element::open(mid, zero));
    net.insulate(mid);
    let motion = Motion {
        switches: vec![Switch {
            element: gap,
            closed: false,
            ohms: 100.0,
            volts: arc,
            trigger: Trigger::Gap {
                breakdown_v: breakdown,
                in_time: None,
                hold_a: 0.05,
                rests_s: 0.0,
            },
        }],
        shapes: Vec::new(),
    };
    let settings = Transient {
        until_s: 1e-3,
        step_s: 1e-5,
        tolerance: 1e-4,
        event_s: 1e-9,
    };
    let (_, flips) = watch(settings, &net, &motion, &[]);
    let fired: Vec<f64> = flips.iter().filter(|f| f.closed).map(|f| f.at_s).collect();
    let from = |start: f64| ohms * farads * ((volts - start) / (volts - breakdown)).ln();
    assert!(
        (fired[0] - from(0.0)).abs() < 0.002 * from(0.0),
        "{} s, expected {} s",
        fired[0],
        from(0.0)
    );
    // The arc leaves its own volts and what the least current drops.
    let between = from(arc + 0.05 * 100.0);
    let gaps: Vec<f64> = fired.windows(2).map(|w| w[1] - w[0]).collect();
    assert!(gaps.len() >= 4);
    for gap in gaps {
        assert!(
            (gap - between).abs() < 0.005 * between,
            "{gap} s, expected {between} s"
        );
    }
}

/// A switch that opens at an instant is found at that instant.
#[test]
fn a_schedule_is_kept_to_the_nanosecond() {
    let mut net = Netlist::new();
    let (zero, top) = (net.zero(), net.node());
    net.add(Element::source(top, zero, 12.0, 1.0));
    let contact = net.add(Element::open(top, zero));
    let at = vec![1.234_567e-3, 2.000_001e-3, 7.5e-3];
    let motion = Motion {
        switches: vec![Switch {
            element: contact,
            closed: false,
            ohms: 1.0,
            volts: 0.0,
            trigger: Trigger::Schedule(at.clone()),
        }],
        shapes: Vec::new(),
    };
    let settings = Transient {
        until_s: 10e-3,
        step_s: 1e-4,
        tolerance: 1e-4,
        event_s: 1e-9,
    };
    let (samples, flips) = watch(settings, &net, &motion, &[]);
    let found: Vec<f64> = flips.iter().map(|f| f.at_s).collect();
    assert_eq!(found.len(), at.len());
    for (found, at) in found.iter().zip(&at) {
        assert!((found - at).abs() < 1.5e-9, "{found} s, expected {at} s");
    }
    for s in samples {
        let closed = flips.iter().filter(|f| f.at_s <= s.at_s).count() % 2 == 1;
        let v = s.solution.voltage(top);
        let known = if closed { 6.0 } else { 12.0 };
        assert!(
            (v - known).abs() < 1e-3 || flips.iter().any(|f| f.at_s == s.at_s),
            "{v} V at {} s",
            s.at_s
        );
    }
}

/// A condenser behind a thyristor keeps its charge until the gate is lifted, then empties into the load;
/// the thyristor lets go when less than its holding current flows: `v = drop + hold·R`.
#[test]
fn a_thyristor_fires_by_its_gate_and_lets_go_by_its_current() {
    let (farads, ohms, hold, drop, fires_s) = (1e-6, 50.0, 0.05, 1.0, 2e-3);
    let mut net = Netlist::new();
    let (zero, store, load, gate) = (net.zero(), net.node(), net.node(), net.node());
    let condenser = net.add(Element::Capacitor {
        a: store,
        b: zero,
        farads,
    });
    let thyristor = net.add(Element::open(store, load));
    net.add(Element::resistor(load, zero, ohms));
    let pulse = net.add(Element::open(gate, load));
    net.add(Element::resistor(gate, load, 1000.0));
    net.insulate(store);
    let motion = Motion {
        switches: vec![
            Switch {
                element: thyristor,
                closed: false,
                ohms: 0.0,
                volts: drop,
                trigger: Trigger::Thyristor {
                    gate,
                    cathode: load,
                    gate_v: 0.8,
                    hold_a: hold,
                },
            },
            Switch {
                element: pulse,
                closed: false,
                ohms: 10.0,
                volts: 2.0,
                trigger: Trigger::Schedule(vec![fires_s, fires_s + 20e-6]),
            },
        ],
        shapes: Vec::new(),
    };
    let settings = Transient {
        until_s: 5e-3,
        step_s: 1e-5,
        tolerance: 1e-5,
        event_s: 1e-9,
    };
    let (samples, flips) = watch(settings, &net, &motion, &[(condenser, 300.0)]);
    let own: Vec<_> = flips.iter().filter(|f| f.switch == 0).collect();
    assert_eq!(own.len(), 2, "{own:?}");
    assert!(own[0].closed && (own[0].at_s - fires_s).abs() < 2e-9);
    // From 300 V down to the drop and what the holding current leaves: t = R·C·ln((300 − 1)/(0.05·50)).
    let exact = ohms * farads * ((300.0 - drop) / (hold * ohms)).ln();
    let burnt = own[1].at_s - own[0].at_s;
    assert!(
        (burnt - exact).abs() < 0.01 * exact,
        "{burnt} s, expected {exact} s"
    );
    let left = samples.last().unwrap().solution.voltage(store);
    assert!(
        (left - (drop + hold * ohms)).abs() < 0.1,
        "{left} V are left"
    );
}

/// A condenser emptied into a coil through a thyristor: the current peaks at `V·√(C/L)`; then a rectifier
/// across the condenser carries it on and it dies with `L/R`, and the condenser stays empty.
#[test]
fn a_condenser_empties_into_a_coil_and_a_rectifier_carries_the_current_on() {
    let (volts, farads, henries, ohms): (f64, f64, f64, f64) = (300.0, 1e-6, 5e-4, 0.2);
    let mut net = Netlist::new();
    let (zero, store, coil, inner, gate) =
        (net.zero(), net.node(), net.node(), net.node(), net.node());
    let condenser = net.add(Element::Capacitor {
        a: store,
        b: zero,
        farads,
    });
    net.add(Element::resistor(store, zero, 1e6));
    let winding = net.add(Element::Inductor {
        a: coil,
        b: inner,
        henries,
    });
    net.add(Element::resistor(inner, zero, ohms));
    let thyristor = net.add(Element::open(store, coil));
    let rectifier = net.add(Element::open(zero, store));
    let pulse = net.add(Element::source(gate, zero, 0.0, 10.0));
    let switch = |element, trigger| Switch {
        element,
        closed: false,
        ohms: 0.01,
        volts: 0.0,
        trigger,
    };
    let fires = Trigger::Thyristor {
        gate,
        cathode: zero,
        gate_v: 1.0,
        hold_a: 0.05,
    };
    let motion = Motion {
        switches: vec![
            switch(thyristor, fires),
            switch(rectifier, Trigger::Rectifier),
        ],
        shapes: vec![(
            pulse,
            Shape::Lines {
                points: vec![
                    (0.0, 0.0),
                    (1e-6, 5.0),
                    (20e-6, 5.0),
                    (21e-6, 0.0),
                    (1.0, 0.0),
                ],
                phase_s: 0.0,
            },
        )],
    };
    let op = Solver::new().operating_point(&net).unwrap();
    let settings = Transient {
        until_s: 5e-3,
        step_s: 1e-4,
        tolerance: 1e-3,
        event_s: 5e-9,
    };
    let start = Start {
        stored: vec![(condenser, volts)],
    };
    let (mut peak, mut least, mut late) = (0.0_f64, 0.0_f64, (0.0, 0.0));
    let mut watch = |at_s: f64, now: &Solution| {
        peak = peak.max(now.current(winding));
        least = least.min(now.voltage(store));
        if at_s < 1.5e-3 {
            late = (at_s, now.current(winding));
        }
        ControlFlow::Continue(())
    };
    settings
        .run(&net, &motion, (&op, &start), &Spares::default(), &mut watch)
        .unwrap();
    let ideal = volts * (farads / henries).sqrt();
    // The coil's resistance costs `exp(−R/2L·t)` over a quarter of a period.
    let quarter = std::f64::consts::FRAC_PI_2 * (henries * farads).sqrt();
    let damped = ideal * (-(ohms + 0.01) / (2.0 * henries) * quarter).exp();
    assert!((peak / damped - 1.0).abs() < 0.01, "{peak} A, {damped} A");
    assert!(least > -1.0, "{least} V");
    let dies = peak * (-(ohms + 0.02) / henries * (late.0 - quarter)).exp();
    assert!((late.1 / dies - 1.0).abs() < 0.03, "{late:?}, {dies} A");
}
