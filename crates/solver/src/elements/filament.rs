//! Tungsten filament in thermal balance. Its resistance grows with voltage about as `v^0.45`
//! (common practice: lamp current goes as the 0.55th power of voltage) from a cold value.

/// Exponent of resistance over voltage.
const EXPONENT: f64 = 0.45;

/// Resistance of a filament at `v` volts across it, in ohms: `cold_ohms` with nothing across it,
/// `hot_ohms` at `rated_v`.
pub fn filament_ohms(v: f64, rated_v: f64, hot_ohms: f64, cold_ohms: f64) -> f64 {
    let floor = (cold_ohms / hot_ohms).powf(2.0 / EXPONENT);
    let u = v / rated_v;
    hot_ohms * (u * u * (1.0 - floor) + floor).powf(EXPONENT / 2.0)
}

/// Current and its slope at `v` volts.
pub(super) fn current(v: f64, rated_v: f64, hot_ohms: f64, cold_ohms: f64) -> (f64, f64) {
    let floor = (cold_ohms / hot_ohms).powf(2.0 / EXPONENT);
    let ohms = filament_ohms(v, rated_v, hot_ohms, cold_ohms);
    let u2 = (v / rated_v).powi(2) * (1.0 - floor);
    (v / ohms, (1.0 - EXPONENT * u2 / (u2 + floor)) / ohms)
}
