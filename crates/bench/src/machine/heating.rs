//! Wires that carry too much: they are smelt, smoke and lose their insulation.
//!
//! A wire is one mass of copper and insulation. What it takes in goes with its resistance, which rises with its
//! temperature; what it gives off goes with how much warmer it is than what is around it, and grows once it glows.
//! Held against what a wire may carry for long (DIN VDE 0298-4, one table of it), against the current at which a bare
//! copper wire fuses (W. H. Preece, 1888: 80 A times the 1.5th power of its diameter in mm) and against how soon it
//! does (I. M. Onderdonk's equation); all three from memory.

use std::collections::{BTreeMap, BTreeSet};

use super::{Bench, BenchError, Point};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::part::{Notice, NoticeKind};
use cimento_model::stamped::{Role, STRAYS};
use cimento_model::state::OperatingState;
use cimento_model::units::wire_ohms;

/// Current that a wire of 1 mm² carries for long in a loom, in amperes, and how it grows with the area.
/// Source: DIN VDE 0298-4, from memory.
const LONG_A: f64 = 20.0;
const LONG_POWER: f64 = 0.6;
/// Temperature it then has, and rise over what is around it, in °C and kelvin. Source: as above.
const LONG_C: f64 = 70.0;
const LONG_RISE_K: f64 = 40.0;
/// It gives off twice as much for each kelvin once it is so much warmer than what is around it; set by the current at
/// which copper fuses.
const GLOWS_K: f64 = 400.0;
/// Heat that a metre of 1 mm² of copper takes for a kelvin, in joules, and what its insulation adds as a share; the
/// latter common practice.
const COPPER_J: f64 = 3.45;
const INSULATION: f64 = 0.5;
/// Temperatures in °C: hot PVC is smelt; it smokes; it has run off the copper; copper melts. The first is the limit of
/// class B of ISO 6722-1, from memory; the next two are common practice.
const SMELT_C: f64 = 100.0;
const SMOKES_C: f64 = 160.0;
const BARE_C: f64 = 220.0;
const MELTS_C: f64 = 1083.0;
/// The sign of a harness that smokes or has.
pub(super) const SMOKES: &str = "smokes";
/// What wires are called that belong to no harness.
const WIRING: &str = "wiring";
/// Heating is followed in steps of so many seconds.
const STEP_S: f64 = 0.5;
/// A wire as warm as its surroundings but for so many kelvin is cold.
const COLD_K: f64 = 1.0;

/// A wire that is warmer than what is around it.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Warm {
    kelvin: f64,
    /// The hottest it has been in the present state, in °C.
    most_c: f64,
}

/// How warm the wires of a machine are, by the position of the conductor; those that are not named are cold.
#[derive(Debug, Clone, Default)]
pub(super) struct Heat {
    warm: BTreeMap<usize, Warm>,
    /// Wires whose insulation is gone.
    bare: Vec<usize>,
    /// What was overloaded on the way to where the machine settled, and for how many seconds.
    passed: Vec<(Overload, f64)>,
}

/// Current that a wire of so many mm² carries for long, in amperes.
fn long_a(area_mm2: f64) -> f64 {
    LONG_A * area_mm2.powf(LONG_POWER)
}

/// A wire after so many seconds of a current, in kelvin over what is around it at so many °C. What melts is followed no
/// further, and goes on to conduct: what lies between two machines does as they do only where heat changes nothing but
/// itself.
fn warmed(area_mm2: f64, amps_squared: f64, around_c: f64, kelvin: f64, seconds: f64) -> f64 {
    let long = long_a(area_mm2).powi(2) * wire_ohms(area_mm2, 1.0, LONG_C) / LONG_RISE_K;
    let mass = COPPER_J * area_mm2 * (1.0 + INSULATION);
    let mut kelvin = kelvin;
    let mut left = seconds;
    while left > 0.0 && around_c + kelvin < MELTS_C {
        let step = left.min(STEP_S);
        left -= step;
        let gives = long * (1.0 + kelvin / GLOWS_K);
        let takes = amps_squared * wire_ohms(area_mm2, 1.0, around_c + kelvin);
        let toward = takes / gives;
        let next = kelvin + (toward - kelvin) * (1.0 - (-step * gives / mass).exp());
        // What has come to rest stays there.
        if (next - kelvin).abs() < 1e-6 * COLD_K {
            return next;
        }
        kelvin = next;
    }
    kelvin
}

/// Mean square of the current through each wire that carries more than it can for long, by conductor.
type Overload = BTreeMap<usize, f64>;

/// The currents of a wire at one point, in amperes.
#[derive(Debug, Clone, Copy, Default)]
struct Carried {
    /// How many stretches it is drawn in, what the last carries, and the most that any does.
    stretches: usize,
    along: f64,
    most: f64,
    /// What leaves at either end, where a path beside it stands as a triangle.
    beside: Option<[f64; 2]>,
}

impl Carried {
    /// Where it carries most. What leaves at either end belongs to the stretch between; where stretches are drawn one by
    /// one, each carries what it carries.
    fn most(&self) -> f64 {
        match (self.stretches, self.beside) {
            (1, Some([first, second])) => {
                let ends = [self.along + first, self.along - second];
                ends[0].abs().max(ends[1].abs())
            }
            _ => self.most,
        }
    }
}

/// What each wire with a size carries at one point, by conductor.
fn carried(circuit: &Circuit, point: &Point) -> Vec<Carried> {
    let mut out = vec![Carried::default(); circuit.conductors.len()];
    for tag in point.wiring.tags() {
        let Place::Conductor(n) = tag.place else {
            continue;
        };
        if circuit.conductors[n].area_mm2.is_none() {
            continue;
        }
        let amps = point.op.current(tag.element);
        let wire = &mut out[n];
        match (tag.role, STRAYS.iter().position(|name| *name == tag.name)) {
            (Role::Conductor, _) => {
                wire.stretches += 1;
                wire.along = amps;
                wire.most = wire.most.max(amps.abs());
            }
            (_, Some(end)) => wire.beside.get_or_insert_default()[end] += amps,
            _ => {}
        }
    }
    out
}

/// What is overloaded over some points, each for as long as it lasts.
fn overloaded(circuit: &Circuit, points: &[Point]) -> Overload {
    let all: f64 = points.iter().map(|p| p.lasts_s).sum();
    let mut squares = vec![0.0; circuit.conductors.len()];
    for point in points {
        let share = match all > 0.0 {
            true => point.lasts_s / all,
            false => 1.0 / points.len() as f64,
        };
        for (square, wire) in squares.iter_mut().zip(carried(circuit, point)) {
            *square += share * wire.most().powi(2);
        }
    }
    let over = |(n, square): (usize, f64)| {
        let area = circuit.conductors[n].area_mm2?;
        is_long_for(area, square).then_some((n, square))
    };
    squares.into_iter().enumerate().filter_map(over).collect()
}

/// Whether a mean square of amperes is more than a wire carries for long. A power of the area is asked for only where its
/// first or second power does not say so already: the law's power lies between.
fn is_long_for(area_mm2: f64, square: f64) -> bool {
    let least = LONG_A.powi(2) * area_mm2.min(area_mm2.powi(2));
    square > least && square > long_a(area_mm2).powi(2)
}

impl Heat {
    /// Keeps what was overloaded on the way to where a machine settled.
    pub(super) fn pass(&mut self, circuit: &Circuit, passed: &[Point]) {
        let each = passed.iter().map(|point| {
            let carries = overloaded(circuit, std::slice::from_ref(point));
            (carries, point.lasts_s)
        });
        self.passed = each.filter(|(carries, _)| !carries.is_empty()).collect();
    }

    /// Warms the wires for so many seconds.
    fn warm_by(&mut self, circuit: &Circuit, carries: &Overload, around_c: f64, seconds: f64) {
        let warm = self.warm.keys().chain(carries.keys());
        let followed: BTreeSet<usize> = warm.copied().collect();
        for n in followed {
            let area = circuit.conductors[n].area_mm2.unwrap_or(1.0);
            let squared = carries.get(&n).copied().unwrap_or(0.0);
            let warm = self.warm.entry(n).or_insert(Warm {
                kelvin: 0.0,
                most_c: around_c,
            });
            warm.kelvin = warmed(area, squared, around_c, warm.kelvin, seconds);
            warm.most_c = warm.most_c.max(around_c + warm.kelvin);
            if warm.most_c >= BARE_C && !self.bare.contains(&n) {
                self.bare.push(n);
            }
        }
        self.warm
            .retain(|_, w| w.kelvin >= COLD_K || w.most_c > SMELT_C);
    }
}

impl Bench {
    /// Warms the wires by what the machine passed, then by what it has settled to, for so many seconds in all.
    pub(super) fn warm_wires(&mut self, seconds: f64) {
        let around_c = self.state.temperature_c;
        for warm in self.heat.warm.values_mut() {
            warm.most_c = around_c + warm.kelvin;
        }
        let mut left = seconds;
        for (carries, lasts_s) in std::mem::take(&mut self.heat.passed) {
            let lasts_s = lasts_s.min(left);
            left -= lasts_s;
            let heat = &mut self.heat;
            heat.warm_by(&self.circuit, &carries, around_c, lasts_s);
        }
        let carries = overloaded(&self.circuit, &self.settled.points);
        if !(carries.is_empty() && self.heat.warm.is_empty()) {
            self.heat.warm_by(&self.circuit, &carries, around_c, left);
        }
    }

    /// Everything has time to cool.
    pub(super) fn cool_wires(&mut self) {
        self.heat.warm.clear();
    }

    /// Fits a new wire.
    pub fn renew_wire(&mut self, conductor: usize) {
        self.heat.warm.remove(&conductor);
        self.heat.bare.retain(|n| *n != conductor);
    }

    /// Brings the machine into a state and holds it there for so many seconds, whatever burns or melts meanwhile.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn hold_in(&mut self, state: OperatingState, seconds: f64) -> Result<(), BenchError> {
        self.state = state;
        self.hold(seconds)
    }

    /// Whether the insulation of a wire has run off.
    pub fn is_bare(&self, conductor: usize) -> bool {
        self.heat.bare.contains(&conductor)
    }

    /// What is smelt and seen of hot wires, harness by harness. Where insulation ran off, one smells it for good.
    pub(super) fn notice_smoke(&self) -> Vec<Notice> {
        let harness = |n: &usize| {
            let own = self.circuit.conductors[*n].harness.as_deref();
            own.unwrap_or(WIRING)
        };
        let burnt: BTreeSet<&str> = self.heat.bare.iter().map(harness).collect();
        let cold = burnt.iter().map(|harness| (*harness, 0.0));
        let mut hottest: BTreeMap<&str, f64> = cold.collect();
        for (n, warm) in &self.heat.warm {
            let most = hottest.entry(harness(n)).or_default();
            *most = most.max(warm.most_c);
        }
        let notice = |(harness, most_c): (&str, f64)| {
            // Which of several wires goes first hangs on thousandths of an ohm: that there was smoke is one sign.
            let (said, sign) = match most_c {
                c if c >= SMOKES_C => ("smokes", SMOKES),
                _ if burnt.contains(harness) => ("smells burnt", SMOKES),
                c if c >= SMELT_C => ("smells of hot insulation", "smells hot"),
                _ => return None,
            };
            let name = match harness {
                WIRING => format!("the {WIRING}"),
                harness => format!("the {harness} {WIRING}"),
            };
            Some(Notice {
                kind: NoticeKind::Smoke,
                part: harness.to_owned(),
                text: format!("{name} {said}"),
                sign: sign.to_owned(),
                hidden: false,
            })
        };
        hottest.into_iter().filter_map(notice).collect()
    }

    /// The wires whose insulation is gone: what a trial leaves behind.
    pub(super) fn bare_wires(&self) -> &[usize] {
        &self.heat.bare
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Seconds until copper melts, to half a second.
    fn fuses_s(area_mm2: f64, amps: f64) -> Option<f64> {
        let steps = (1..1200).map(|n| f64::from(n) * STEP_S);
        let mut kelvin = 0.0;
        for at_s in steps {
            kelvin = warmed(area_mm2, amps * amps, 20.0, kelvin, STEP_S);
            if 20.0 + kelvin >= MELTS_C {
                return Some(at_s);
            }
        }
        None
    }

    /// DIN VDE 0298-4 (from memory): what 0.5 to 50 mm² carry for long at 30 °C, within a fifth.
    #[test]
    fn a_wire_stands_for_long_what_the_table_allows() {
        for (area, amps) in [
            (0.5, 12.0),
            (1.0, 19.0),
            (1.5, 24.0),
            (2.5, 32.0),
            (4.0, 42.0),
            (6.0, 54.0),
            (10.0, 73.0),
            (16.0, 98.0),
            (25.0, 129.0),
            (35.0, 158.0),
            (50.0, 198.0),
        ] {
            assert!((long_a(area) / amps - 1.0_f64).abs() < 0.2, "{area}");
            let rise = warmed(area, amps * amps, 30.0, 0.0, 20_000.0);
            assert!((20.0..60.0).contains(&rise), "{area}: {rise} K");
        }
    }

    /// W. H. Preece (from memory): copper fuses at 80 A times the 1.5th power of its diameter in mm, in open air; in
    /// insulation somewhat sooner or later.
    #[test]
    fn a_wire_fuses_about_where_a_bare_one_does() {
        for area in [0.5, 0.75, 1.0, 2.5, 6.0] {
            let diameter_mm = (area * 4.0 / std::f64::consts::PI).sqrt();
            let preece = 80.0 * diameter_mm.powf(1.5);
            assert_eq!(fuses_s(area, 0.6 * preece), None, "{area}");
            assert!(fuses_s(area, 1.6 * preece).is_some(), "{area}");
        }
    }

    /// I. M. Onderdonk (from memory): I = A·√(log10(1 + ΔT/(234 + Ta)) ÷ 33 t), A in circular mils, copper alone; with its
    /// insulation a wire lasts up to twice as long.
    #[test]
    fn a_wire_far_over_its_load_fuses_about_as_soon_as_copper_does() {
        for (area, amps) in [(0.75, 150.0), (1.0, 250.0), (2.5, 500.0), (6.0, 1000.0)] {
            let mils: f64 = area * 1973.5;
            let rise: f64 = (1.0 + (MELTS_C - 20.0) / 254.0_f64).log10();
            let onderdonk_s = rise / 33.0 * (mils / amps).powi(2);
            let ours = fuses_s(area, amps).unwrap();
            assert!(
                (onderdonk_s..2.2 * onderdonk_s + STEP_S).contains(&ours),
                "{area} mm² at {amps} A: {ours} s, copper alone {onderdonk_s} s"
            );
        }
    }
}
