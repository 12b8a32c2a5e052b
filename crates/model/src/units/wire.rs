//! Copper conductors: gauge, area and resistance.

/// Resistivity of annealed copper at 20 °C, Ω·mm²/m. Source: IEC 60028 (1/58).
const COPPER_OHM_MM2_PER_M: f64 = 1.0 / 58.0;
/// Change of copper's resistance per kelvin about 20 °C. Source: IEC 60028.
pub const COPPER_PER_KELVIN: f64 = 0.00393;
/// Extra length of strands for their lay, common practice.
const LAY: f64 = 1.02;

/// Resistance of a stranded copper wire, in ohms.
///
/// ```
/// // ISO 6722-1 allows 18.5 mΩ/m for 1 mm².
/// let ohms = cimento_model::units::wire_ohms(1.0, 1.0, 20.0);
/// assert!(ohms < 0.0185 && ohms > 0.0170);
/// ```
pub fn wire_ohms(area_mm2: f64, length_m: f64, temperature_c: f64) -> f64 {
    COPPER_OHM_MM2_PER_M * LAY * length_m / area_mm2
        * (1.0 + COPPER_PER_KELVIN * (temperature_c - 20.0))
}

/// Conductor area of a gauge in mm², for AWG 40 to 0000 (0 is 1/0, −1 is 2/0, −3 is 4/0).
/// Source: ASTM B258, diameter 0.127 mm × 92^((36−n)/39).
pub fn awg_area_mm2(awg: i32) -> f64 {
    let diameter = 0.127 * 92f64.powf((36.0 - f64::from(awg)) / 39.0);
    std::f64::consts::FRAC_PI_4 * diameter * diameter
}
