//! The worth of a measurement: the expected fall in entropy over places, after de Kleer and Williams,
//! "Diagnosing multiple faults", Artificial Intelligence 32, 1987, under the rule by which readings
//! really rule candidates out.

use std::collections::HashMap;

use super::spans::Span;
use crate::circuit::Place;
use crate::instruments::Function;

/// Below this many bits a measurement tells nothing.
pub const TELLS_NOTHING_BITS: f64 = 0.02;
/// Spans closer than this are one, in the reading's unit.
const ALIKE: f64 = 1e-4;

/// A segment with its belief and what it says of a measurement.
#[derive(Debug, Clone, Copy)]
pub struct Guess {
    pub root: usize,
    pub place: Place,
    pub weight: f64,
    pub span: Span,
}

/// Entropy of beliefs in bits; they need not add up to one.
pub fn entropy(weights: impl Iterator<Item = f64> + Clone) -> f64 {
    let total: f64 = weights.clone().sum();
    if total <= 0.0 {
        return 0.0;
    }
    let term = |w: f64| {
        let p = w / total;
        if p > 0.0 { -p * p.log2() } else { 0.0 }
    };
    weights.map(term).sum()
}

/// Segments that say the same of a measurement, with their belief by place.
struct Group {
    span: Span,
    weight: f64,
    places: Vec<(usize, f64)>,
}

/// The expected fall in entropy, in bits: the ends and the middle of each segment in turn are taken
/// as true, and the others are held against what these would show.
pub fn worth(guesses: &[Guess], function: Function) -> f64 {
    let total: f64 = guesses.iter().map(|g| g.weight).sum();
    if total <= 0.0 {
        return 0.0;
    }
    let mut numbers: HashMap<Place, usize> = HashMap::new();
    let mut groups: Vec<Group> = Vec::new();
    let mut known: HashMap<(i64, i64, bool, bool), usize> = HashMap::new();
    for guess in guesses {
        let count = numbers.len();
        let place = *numbers.entry(guess.place).or_insert(count);
        let Span {
            least,
            most,
            wanders,
            steady,
        } = guess.span;
        let key = |v: f64| (v / ALIKE).round() as i64;
        let at = *known
            .entry((key(least), key(most), wanders, steady))
            .or_insert_with(|| {
                groups.push(Group {
                    span: guess.span,
                    weight: 0.0,
                    places: Vec::new(),
                });
                groups.len() - 1
            });
        let group = &mut groups[at];
        group.weight += guess.weight;
        match group.places.iter_mut().find(|(p, _)| *p == place) {
            Some((_, weight)) => *weight += guess.weight,
            None => group.places.push((place, guess.weight)),
        }
    }
    let mut all = vec![0.0; numbers.len()];
    let mut gather = |keep: &dyn Fn(&Group) -> bool| {
        all.fill(0.0);
        for group in groups.iter().filter(|g| keep(g)) {
            for (place, weight) in &group.places {
                all[*place] += weight;
            }
        }
        entropy(all.iter().copied())
    };
    let before = gather(&|_| true);
    let after: f64 = groups
        .iter()
        .map(|own| {
            let slack = own.span.slack(function);
            let shown = own.span.samples();
            let left = shown.map(|one| gather(&|other| one.confusable(other.span, slack)));
            own.weight / total * left.iter().sum::<f64>() / left.len() as f64
        })
        .sum();
    (before - after).max(0.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Places in a row that each may hold the fault, and a probe after the first k: what lies before
    /// the fault reads well and what lies behind it does not.
    fn probe(n: usize, k: usize) -> f64 {
        let one = |place: usize| Guess {
            root: place,
            place: Place::Conductor(place),
            weight: 1.0 / n as f64,
            span: Span::steady(if place < k { 0.0 } else { 12.6 }),
        };
        worth(&(0..n).map(one).collect::<Vec<_>>(), Function::DcVolts)
    }

    /// de Kleer and Williams work a cascade of four inverters whose output is wrong; each inverter is
    /// as likely as the others. Probing between the second and the third is best: 1 bit. Probing after
    /// the first or before the last is worth the entropy of one in four, 0.811 bit, and at either end
    /// nothing is learnt. (The example is recalled from memory; the figures follow from the paper's
    /// expected entropy for equal priors, `H = 1/n·Σ cᵢ·log₂ cᵢ` over the outcomes' sizes cᵢ.)
    #[test]
    fn a_cascade_of_four_is_probed_in_its_middle() {
        let all: Vec<f64> = (0..=4).map(|k| probe(4, k)).collect();
        let expected = [0.0, 0.811_278, 1.0, 0.811_278, 0.0];
        for (worth, expected) in all.iter().zip(expected) {
            assert!((worth - expected).abs() < 1e-6, "{all:?}");
        }
    }

    /// The same rule for a longer row: the middle tells most.
    #[test]
    fn splitting_in_the_middle_tells_most() {
        let n = 8;
        for k in 0..=n {
            let c = [k as f64, (n - k) as f64];
            let left: f64 = c
                .iter()
                .filter(|c| **c > 0.0)
                .map(|c| c * c.log2())
                .sum::<f64>()
                / n as f64;
            let expected = (n as f64).log2() - left;
            assert!((probe(n, k) - expected).abs() < 1e-9);
        }
        assert!((probe(n, 4) - 1.0).abs() < 1e-9 && probe(n, 1) < 0.6);
    }
}
