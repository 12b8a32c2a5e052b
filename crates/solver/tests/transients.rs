//! Transients against their closed forms, and energy that nobody loses.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use cimento_solver::{Element, Netlist, Sample, Solver, Transient};

fn run(net: &Netlist, until_s: f64, initial: &[(cimento_solver::ElementId, f64)]) -> Vec<Sample> {
    let settings = Transient {
        until_s,
        step_s: until_s / 50.0,
        tolerance: 1e-6,
    };
    settings.run(&mut Solver::new(), net, initial).unwrap()
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
    };
    let samples = settings
        .run(&mut Solver::new(), &net, &[(coil, amps)])
        .unwrap();
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
