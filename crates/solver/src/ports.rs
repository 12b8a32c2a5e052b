//! Newton–Raphson over the ports: the voltages of what is not linear or only attached.
//!
//! With `v0` the port voltages of the linear circuit alone and `Z` its resistances seen from the
//! ports, the port voltages obey `v = v0 − Z·i(v)`. The iteration is over these few numbers.

use crate::dense::Equations;
use crate::elements::Element;

/// A step this small, beside the voltage, is left to the refinement.
pub(crate) const TREMBLES: f64 = 1e-7;
/// Iterations before the iteration gives up on one ramp step.
const ITERATIONS: usize = 200;
/// A step smaller than this many volts, beside the same share of the value, is no step: the
/// rounding of a port that hangs in the air is below it, and Newton's next step far below.
const TOLERANCE: f64 = 1e-9;
/// Shares of the sources tried in turn when the full sources do not converge at once.
const RAMP: [f64; 8] = [0.02, 0.05, 0.1, 0.2, 0.4, 0.6, 0.8, 1.0];

/// An element at a port, and the share of it that the matrix already holds, in siemens.
pub(crate) struct Port<'a> {
    pub index: usize,
    pub element: &'a Element,
    pub nominal: f64,
}

impl Port<'_> {
    /// Current and slope beyond what the matrix holds.
    pub fn law(&self, v: f64) -> (f64, f64) {
        let (i, g) = self.element.law(v);
        (i - self.nominal * v, g - self.nominal)
    }
}

/// The port that still moves, and by how much.
pub(crate) struct Stuck {
    pub port: usize,
    pub step: f64,
    pub iterations: usize,
    /// Where all ports stood then.
    pub volts: Vec<f64>,
}

/// Port voltages for the elements at the ports. `z[j][k]` is the rise of port j's voltage for an
/// ampere out of port k.
pub(crate) fn solve(ports: &[Port<'_>], v0: &[f64], z: &[Vec<f64>]) -> Result<Vec<f64>, Stuck> {
    iterate(ports, v0, z, vec![0.0; v0.len()])
}

/// The same with the sources brought up by steps.
pub(crate) fn ramp(ports: &[Port<'_>], v0: &[f64], z: &[Vec<f64>]) -> Result<Vec<f64>, Stuck> {
    let mut v = vec![0.0; v0.len()];
    for ramp in RAMP {
        let sources: Vec<f64> = v0.iter().map(|v| v * ramp).collect();
        v = iterate(ports, &sources, z, v)?;
    }
    Ok(v)
}

/// The same from where the ports stand already.
pub(crate) fn iterate(
    ports: &[Port<'_>],
    v0: &[f64],
    z: &[Vec<f64>],
    mut v: Vec<f64>,
) -> Result<Vec<f64>, Stuck> {
    let n = v.len();
    let mut worst = (0, f64::INFINITY);
    let (mut equations, mut laws) = (Equations::new(n), Vec::with_capacity(n));
    for _ in 0..ITERATIONS {
        // (1 + Z·G)·v' = v0 − Z·(i − G·v)
        laws.clear();
        laws.extend(ports.iter().zip(&v).map(|(p, v)| p.law(*v)));
        for (j, row) in equations.rows().enumerate() {
            row[n] = v0[j];
            for k in 0..n {
                let (i, g) = laws[k];
                row[k] = z[j][k] * g + if j == k { 1.0 } else { 0.0 };
                row[n] -= z[j][k] * (i - g * v[k]);
            }
        }
        let next = equations.solve();
        worst = (0, 0.0);
        // The step is shortened as a whole, so that no junction runs past its curve.
        let mut share: f64 = 1.0;
        for k in 0..n {
            let step = next[k] - v[k];
            let allowed = ports[k].element.limit(next[k], v[k]) - v[k];
            if step.abs() > TOLERANCE {
                share = share.min((allowed / step).clamp(1e-3, 1.0));
            }
        }
        for k in 0..n {
            let step = share * (next[k] - v[k]);
            v[k] += step;
            let relative = step.abs() / (1.0 + v[k].abs());
            if relative > worst.1 || relative.is_nan() {
                worst = (k, relative);
            }
        }
        if worst.1 <= TOLERANCE {
            return Ok(v);
        }
    }
    // What still trembles by this little is judged by the equations themselves.
    if worst.1 <= TREMBLES {
        return Ok(v);
    }
    Err(Stuck {
        port: worst.0,
        step: worst.1,
        iterations: ITERATIONS,
        volts: v,
    })
}

/// What the currents at the ports change by, to first order, when `dv0` more volts stand at the open
/// ports; `v` is where they stand now.
pub(crate) fn answer(ports: &[Port<'_>], v: &[f64], dv0: &[f64], z: &[Vec<f64>]) -> Vec<f64> {
    // (1 + Z·G)·dv = dv0
    let slopes: Vec<f64> = ports.iter().zip(v).map(|(p, v)| p.law(*v).1).collect();
    let mut equations = Equations::new(v.len());
    for (j, row) in equations.rows().enumerate() {
        for (k, slope) in slopes.iter().enumerate() {
            row[k] = z[j][k] * slope + if j == k { 1.0 } else { 0.0 };
        }
        row[v.len()] = dv0[j];
    }
    let dv = equations.solve();
    dv.iter().zip(&slopes).map(|(dv, g)| dv * g).collect()
}
