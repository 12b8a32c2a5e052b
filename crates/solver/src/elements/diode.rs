//! Junction diode after Shockley, without series resistance.

/// Thermal voltage at 27 °C (300.15 K), in volts: the temperature a stock SPICE assumes.
const THERMAL_V: f64 = 0.025_864_186;

/// Current and its slope at `v` volts forward.
pub(super) fn current(v: f64, saturation_a: f64, emission: f64) -> (f64, f64) {
    let nvt = emission * THERMAL_V;
    // Past this exponent the curve goes on as its tangent, so that no step overflows.
    const CAP: f64 = 80.0;
    let u = v / nvt;
    if u > CAP {
        let e = CAP.exp();
        let g = saturation_a * e / nvt;
        (saturation_a * (e - 1.0) + g * (v - CAP * nvt), g)
    } else {
        let e = u.exp();
        (saturation_a * (e - 1.0), saturation_a * e / nvt)
    }
}

/// Junction limiting: beyond the critical voltage a step moves along the logarithm.
pub(super) fn limit(next: f64, last: f64, saturation_a: f64, emission: f64) -> f64 {
    let nvt = emission * THERMAL_V;
    let critical = nvt * (nvt / (saturation_a * std::f64::consts::SQRT_2)).ln();
    if next > critical && (next - last).abs() > 2.0 * nvt {
        if last > 0.0 {
            let grow = 1.0 + (next - last) / nvt;
            if grow > 0.0 {
                last + nvt * grow.ln()
            } else {
                critical
            }
        } else {
            nvt * (next / nvt).max(1e-3).ln()
        }
    } else {
        next
    }
}
