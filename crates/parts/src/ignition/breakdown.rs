//! What a gap needs before a spark jumps it.

/// Paschen's law for air in a uniform field, `V = B·p·d / (ln(A·p·d) − ln ln(1 + 1/γ))`: A per cm and
/// Torr, B in volts per cm and Torr, γ the electrons freed per ion. Source: Paschen 1889, with the
/// usual constants for air; from memory.
const A: f64 = 15.0;
const B: f64 = 365.0;
const GAMMA: f64 = 0.01;
/// Pressure of open air, in Torr.
const OPEN_TORR: f64 = 760.0;
/// Product of pressure and distance below which the law has no meaning, in cm and Torr.
const LEAST: f64 = 1.0;

/// Share of the uniform field's voltage that the edges of a plug need; common practice: 0.76 mm takes
/// about 2 kV in open air and up to 8 kV on compression.
pub const EDGE: f64 = 0.5;
/// The same between needle points; common practice: about an inch at 30 kV to 35 kV.
pub const NEEDLES: f64 = 0.4;

/// Volts at which a gap breaks down. It follows the density of the gas, not its pressure alone:
/// `density` counts beside open air at 20 °C.
pub fn breakdown_v(gap_mm: f64, density: f64, electrodes: f64) -> f64 {
    let pd = (OPEN_TORR * density * gap_mm / 10.0).max(LEAST);
    electrodes * B * pd / ((A * pd).ln() - (1.0 + 1.0 / GAMMA).ln().ln())
}
