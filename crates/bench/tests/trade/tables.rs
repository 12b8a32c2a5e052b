//! Conductors against published tables.

// 3.14 mΩ/m is a figure of the standard.
use cimento_model::units::{awg_area_mm2, wire_ohms};

/// ISO 6722-1, largest conductor resistance at 20 °C for bare copper, mm² and mΩ/m (from memory).
const ISO_6722_1: [(f64, f64); 14] = [
    (0.35, 54.4),
    (0.5, 37.1),
    (0.75, 24.7),
    (1.0, 18.5),
    (1.5, 12.7),
    (2.5, 7.60),
    (4.0, 4.71),
    (6.0, 3.14),
    (10.0, 1.82),
    (16.0, 1.16),
    (25.0, 0.743),
    (35.0, 0.527),
    (50.0, 0.368),
    (70.0, 0.259),
];

#[test]
fn every_size_is_at_or_just_under_the_largest_resistance_of_iso_6722_1() {
    for (area, largest) in ISO_6722_1 {
        let ours = 1000.0 * wire_ohms(area, 1.0, 20.0);
        assert!(
            ours <= largest,
            "{area} mm² has {ours} mΩ/m, the standard allows {largest}"
        );
        assert!(
            ours > 0.9 * largest,
            "{area} mm² has {ours} mΩ/m, far under {largest}"
        );
    }
}

/// NBS Handbook 100, Ω per 1000 ft of solid copper at 20 °C, on diameters of ASTM B258 (from memory).
/// The lay of strands (2 %) is taken off, since these are solid.
#[test]
fn american_gauges_meet_the_copper_wire_tables() {
    for (awg, per_1000_ft) in [
        (10, 0.999),
        (14, 2.525),
        (18, 6.385),
        (4, 0.2485),
        (-1, 0.0779),
    ] {
        let ours = wire_ohms(awg_area_mm2(awg), 304.8, 20.0) / 1.02;
        let off = (ours / per_1000_ft - 1.0).abs();
        assert!(off < 0.002, "AWG {awg}: {ours} Ω against {per_1000_ft} Ω");
    }
}

/// IEC 60028: +0.393 % per kelvin.
#[test]
fn copper_grows_with_temperature() {
    let ratio = wire_ohms(1.0, 1.0, 120.0) / wire_ohms(1.0, 1.0, 20.0);
    assert!((ratio - 1.393).abs() < 1e-9);
}
