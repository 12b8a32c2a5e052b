//! What a three-phase bridge sends into a battery: three windings in a star, each with its inductance and a
//! little resistance, six diodes, and a supply that holds its voltage. Worked out in time until one turn of the
//! phases repeats the last, as in Mohan, Undeland, Robbins, "Power Electronics", chapter 5 (from memory).
//!
//! Everything is counted by the windings: volts by the peak that one induces, amperes by what that peak drives
//! through one's reactance. Then one number says it all: how high the supply stands against the windings.

use std::sync::LazyLock;

/// The diodes that are left. The first winding's upper diode is the one that fails.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Diodes {
    Sound,
    /// It carries nothing.
    Open,
    /// It holds its winding to the output.
    Shorted,
}

/// Steps in which one turn of the phases is worked out and kept.
pub(super) const STEPS: usize = 120;
/// Each of them is cut in so many.
const CUTS: usize = 3;
/// Turns until it repeats itself, and halvings that find the voltage of the star's middle.
const TURNS: usize = 6;
const HALVINGS: usize = 32;
/// Supplies that are worked out, from none to the highest that a bridge reaches.
const SUPPLIES: usize = 24;
/// Resistances of a winding beside its reactance that are worked out: fast and slow.
const RESISTANCES: [f64; 3] = [0.04, 0.1, 0.25];

/// The highest supply that a bridge sends anything into: the peak between two windings.
pub(super) fn highest() -> f64 {
    3f64.sqrt()
}

/// One turn of the phases under a supply.
#[derive(Debug, Clone)]
pub(super) struct Turn {
    pub mean: f64,
    /// Current at each step.
    pub current: Vec<f64>,
}

impl Turn {
    /// Mean distance from the mean, as a share of it.
    pub fn ripple(&self) -> f64 {
        let off = self.current.iter().map(|i| (i - self.mean).abs());
        off.sum::<f64>() / STEPS as f64 / self.mean
    }

    /// Follows the bridge until it repeats itself.
    fn under(supply: f64, resistance: f64, diodes: Diodes) -> Self {
        let h = std::f64::consts::TAU / (STEPS * CUTS) as f64;
        let mut amps = [0.0; 3];
        let mut current = Vec::new();
        for turn in 0..TURNS {
            for step in 0..STEPS * CUTS {
                let angle = h * (step + 1) as f64;
                let induced =
                    [0.0, 1.0, 2.0].map(|k| (angle - k * std::f64::consts::TAU / 3.0).sin());
                let at = |middle: f64| {
                    [0, 1, 2].map(|k| {
                        let drive = amps[k] + h * (induced[k] - middle);
                        after(k, drive / (1.0 + h * resistance), h, supply, diodes)
                    })
                };
                // What all three send out comes back through the star: the sum falls as its middle rises.
                let reach = amps.iter().fold(0.0_f64, |m, i| m.max(i.abs())) / h + supply + 2.0;
                let (mut low, mut high) = (-reach, reach);
                for _ in 0..HALVINGS {
                    let middle = f64::midpoint(low, high);
                    match at(middle).iter().sum::<f64>() > 0.0 {
                        true => low = middle,
                        false => high = middle,
                    }
                }
                amps = at(f64::midpoint(low, high));
                if turn == TURNS - 1 && (step + 1) % CUTS == 0 {
                    current.push(sent(&amps, diodes));
                }
            }
        }
        let mean = current.iter().sum::<f64>() / STEPS as f64;
        Self { mean, current }
    }
}

/// A winding's current after a step, from what it would drive against nothing.
fn after(winding: usize, drive: f64, h: f64, supply: f64, diodes: Diodes) -> f64 {
    let up = drive - h * supply;
    match (winding, diodes) {
        (0, Diodes::Shorted) => up,
        _ if drive < 0.0 => drive,
        (0, Diodes::Open) => 0.0,
        _ => up.max(0.0),
    }
}

/// What goes out to the supply.
fn sent(amps: &[f64; 3], diodes: Diodes) -> f64 {
    let first = match diodes {
        Diodes::Sound => amps[0].max(0.0),
        Diodes::Open => 0.0,
        Diodes::Shorted => amps[0],
    };
    first + amps[1].max(0.0) + amps[2].max(0.0)
}

/// Supplies in rising order, with what a bridge with each set of diodes sends into them.
type Known = Vec<(f64, Turn)>;

fn known(resistance: usize, diodes: Diodes) -> &'static Known {
    static ALL: LazyLock<[[Known; 3]; RESISTANCES.len()]> = LazyLock::new(|| {
        RESISTANCES.map(|resistance| {
            [Diodes::Sound, Diodes::Open, Diodes::Shorted].map(|diodes| {
                let supplies = (0..=SUPPLIES).map(|n| {
                    // Closer together at the top, where little current flows and in short humps.
                    let below = 1.0 - n as f64 / SUPPLIES as f64;
                    highest() * (1.0 - below * below)
                });
                supplies
                    .map(|v| (v, Turn::under(v, resistance, diodes)))
                    .collect()
            })
        })
    });
    &ALL[resistance][diodes as usize]
}

/// The turns that lie around a supply and a resistance, with the weight of each.
fn around(supply: f64, resistance: f64, diodes: Diodes) -> [(&'static Turn, f64); 4] {
    let at = RESISTANCES.partition_point(|r| *r <= resistance);
    let at = at.clamp(1, RESISTANCES.len() - 1);
    let (low, high) = (RESISTANCES[at - 1], RESISTANCES[at]);
    let slow = ((resistance / low).ln() / (high / low).ln()).clamp(0.0, 1.0);
    let [[a, b], [c, d]] = [(at - 1, 1.0 - slow), (at, slow)].map(|(resistance, weight)| {
        let known = known(resistance, diodes);
        let at = known.partition_point(|(v, _)| *v <= supply);
        let at = at.clamp(1, known.len() - 1);
        let ((v0, below), (v1, above)) = (&known[at - 1], &known[at]);
        let share = ((supply - v0) / (v1 - v0)).clamp(0.0, 1.0);
        [(below, weight * (1.0 - share)), (above, weight * share)]
    });
    [a, b, c, d]
}

/// What a bridge sends into a supply from windings of so much resistance, both held to what was worked out.
pub(super) fn into(supply: f64, resistance: f64, diodes: Diodes) -> Turn {
    let around = around(supply, resistance, diodes);
    let at = |step: usize| around.iter().map(|(turn, w)| w * turn.current[step]).sum();
    Turn {
        mean: mean_into(supply, resistance, diodes),
        current: (0..STEPS).map(at).collect(),
    }
}

/// The mean of that.
pub(super) fn mean_into(supply: f64, resistance: f64, diodes: Diodes) -> f64 {
    let around = around(supply, resistance, diodes);
    around.iter().map(|(turn, w)| w * turn.mean).sum()
}

/// The supply under which the mean current is so many times the supply: the windings are weakened until they send
/// what is asked for.
pub(super) fn weakened_to(times: f64, resistance: f64, diodes: Diodes) -> f64 {
    let (mut low, mut high) = (1e-3, highest());
    for _ in 0..HALVINGS {
        let supply = f64::midpoint(low, high);
        match mean_into(supply, resistance, diodes) > times * supply {
            true => low = supply,
            false => high = supply,
        }
    }
    f64::midpoint(low, high)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Into next to no voltage the windings' reactance alone limits the current: rectified, three sines of it have
    /// a mean of 3/π of their peak, less what the resistance takes.
    #[test]
    fn shorted_it_sends_what_its_reactance_lets_through() {
        let turn = into(0.0, 0.1, Diodes::Sound);
        let peak = 1.0 / 1f64.hypot(0.1);
        let mean = 3.0 / std::f64::consts::PI * peak;
        assert!(
            (turn.mean / mean - 1.0).abs() < 0.01,
            "{} beside {mean}",
            turn.mean
        );
    }

    #[test]
    fn it_sends_less_the_higher_the_supply_and_nothing_at_the_top() {
        let means: Vec<f64> = (0..=20)
            .map(|n| into(highest() * f64::from(n) / 20.0, 0.1, Diodes::Sound).mean)
            .collect();
        assert!(means.windows(2).all(|p| p[1] < p[0]), "{means:?}");
        assert!(means[20].abs() < 1e-3, "{means:?}");
    }

    #[test]
    fn the_windings_are_weakened_to_what_is_asked_for() {
        for diodes in [Diodes::Sound, Diodes::Open, Diodes::Shorted] {
            let supply = weakened_to(0.2, 0.1, diodes);
            assert!(
                (into(supply, 0.1, diodes).mean / supply - 0.2).abs() < 1e-3,
                "{diodes:?}"
            );
        }
    }
}
