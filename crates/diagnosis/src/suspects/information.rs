//! The worth of a measurement: the expected fall in entropy over places, after de Kleer and Williams,
//! "Diagnosing multiple faults", Artificial Intelligence 32, 1987, under the rule by which readings
//! really rule candidates out.

use std::collections::{BTreeMap, HashMap};

use super::spans::Span;
use cimento_bench::instruments::Function;
use cimento_model::circuit::Place;

/// Below this many bits a measurement tells nothing.
pub const TELLS_NOTHING_BITS: f64 = 0.02;
/// Spans closer than this are one, in the reading's unit.
const ALIKE: f64 = 1e-4;

/// A segment with the belief in it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Believed {
    pub root: usize,
    /// Where its fault lies; nowhere when nothing is wrong.
    pub place: Option<Place>,
    pub weight: f64,
}

/// The segments that live in a state, in order.
#[derive(Debug, Clone, Default)]
pub(super) struct Beliefs {
    all: Vec<Believed>,
    /// For each segment, the number of its place among those that there are.
    place: Vec<usize>,
    places: usize,
}

impl FromIterator<Believed> for Beliefs {
    fn from_iter<I: IntoIterator<Item = Believed>>(all: I) -> Self {
        let all: Vec<Believed> = all.into_iter().collect();
        let mut numbers: HashMap<Option<Place>, usize> = HashMap::new();
        let mut number = |b: &Believed| {
            let next = numbers.len();
            *numbers.entry(b.place).or_insert(next)
        };
        let place = all.iter().map(&mut number).collect();
        Self {
            all,
            place,
            places: numbers.len(),
        }
    }
}

impl Beliefs {
    pub fn iter(&self) -> impl Iterator<Item = &Believed> {
        self.all.iter()
    }
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

/// The expected fall in entropy of something that was asked, in bits, by what was believed of each place before and after
/// the answer: what the answer left is one outcome, all the rest is the other.
pub fn gain_of_two(
    before: &BTreeMap<Option<Place>, f64>,
    after: &BTreeMap<Option<Place>, f64>,
) -> f64 {
    let left = |place: &Option<Place>| after.get(place).copied().unwrap_or(0.0);
    let rest = before.iter().map(|(place, w)| (w - left(place)).max(0.0));
    let total: f64 = before.values().sum();
    if total <= 0.0 {
        return 0.0;
    }
    let share = (after.values().sum::<f64>() / total).clamp(0.0, 1.0);
    let expected = share * entropy(after.values().copied()) + (1.0 - share) * entropy(rest);
    (entropy(before.values().copied()) - expected).max(0.0)
}

/// The expected fall in entropy, in bits, by what each segment says of a measurement: the ends and the middle
/// of each in turn are taken as true, and the others are held against what these would show.
pub(super) fn information_gain(
    beliefs: &Beliefs,
    spans: &[Span],
    function: Option<Function>,
) -> f64 {
    Grouped::new(beliefs, spans).information_gain(beliefs, spans, function, &|_| true)
}

/// Segments by what they say of a measurement: those that say the same are one. It holds them by position only,
/// for there are millions of them in a table.
pub(super) struct Grouped {
    /// The segments of one group after the other, each group's in the order of their places; the groups in the
    /// order of their lower ends.
    members: Vec<u32>,
    /// Where each group ends.
    ends: Vec<u32>,
}

/// Segments that say the same of a measurement, with their belief by place.
struct Group {
    span: Span,
    weight: f64,
    places: Vec<(usize, f64)>,
}

impl Group {
    fn of(
        span: Span,
        members: &[u32],
        beliefs: &Beliefs,
        alive: &dyn Fn(usize) -> bool,
    ) -> Option<Self> {
        let mut places: Vec<(usize, f64)> = Vec::new();
        for at in members.iter().map(|at| *at as usize) {
            let segment = &beliefs.all[at];
            if !alive(segment.root) {
                continue;
            }
            match places.last_mut() {
                Some((place, weight)) if *place == beliefs.place[at] => *weight += segment.weight,
                _ => places.push((beliefs.place[at], segment.weight)),
            }
        }
        let weight = places.iter().map(|(_, w)| w).sum();
        (weight > 0.0).then_some(Self {
            span,
            weight,
            places,
        })
    }
}

impl Grouped {
    pub fn new(beliefs: &Beliefs, spans: &[Span]) -> Self {
        let mut groups: Vec<Vec<u32>> = Vec::new();
        let mut known: HashMap<(i64, i64, bool, bool), usize> = HashMap::new();
        let key = |v: f64| (v / ALIKE).round() as i64;
        for (segment, span) in (0_u32..).zip(spans) {
            let says = (key(span.least), key(span.most), span.wanders, span.steady);
            let at = *known.entry(says).or_insert(groups.len());
            if at == groups.len() {
                groups.push(Vec::new());
            }
            groups[at].push(segment);
        }
        // Each group says what its first segment says.
        let least = |group: &Vec<u32>| spans[group[0] as usize].least;
        groups.sort_by(|a, b| least(a).total_cmp(&least(b)));
        let (mut members, mut ends) = (Vec::with_capacity(spans.len()), Vec::new());
        for mut group in groups {
            group.sort_by_key(|at| beliefs.place[*at as usize]);
            members.extend(group);
            ends.push(members.len() as u32);
        }
        ends.shrink_to_fit();
        Self { members, ends }
    }

    /// The expected fall in entropy while some segments live, given by the segment each began as.
    pub fn information_gain(
        &self,
        beliefs: &Beliefs,
        spans: &[Span],
        function: Option<Function>,
        alive: &dyn Fn(usize) -> bool,
    ) -> f64 {
        let mut from = 0;
        let groups: Vec<Group> = self
            .ends
            .iter()
            .filter_map(|end| {
                let members = &self.members[from..*end as usize];
                from = *end as usize;
                let first = members.iter().min()?;
                Group::of(spans[*first as usize], members, beliefs, alive)
            })
            .collect();
        fall(&groups, beliefs.places, function)
    }
}

/// The expected fall in entropy over groups in the order of their lower ends.
fn fall(groups: &[Group], places: usize, function: Option<Function>) -> f64 {
    let total: f64 = groups.iter().map(|g| g.weight).sum();
    let mut all = Places::new(places);
    groups.iter().for_each(|g| all.put(g, 1.0));
    let before = all.entropy();
    let mut after = 0.0;
    // What wanders and what stands still are told apart, so each kind is held against its like.
    for (wanders, steady) in [(false, true), (true, false), (true, true)] {
        let own = |g: &&Group| g.span.wanders == wanders && g.span.steady == steady;
        let samples: Vec<Sample> = groups
            .iter()
            .filter(own)
            .flat_map(|g| Sample::of(g, function, total))
            .collect();
        let like = |g: &&Group| g.span.wanders && wanders || g.span.steady && steady;
        let others: Vec<&Group> = groups.iter().filter(like).collect();
        after += expected(samples, &others, places);
    }
    (before - after).max(0.0)
}

/// What a meter may show, with how likely that is.
struct Sample {
    /// What says so and may be told from it by nothing lies between these.
    least: f64,
    most: f64,
    share: f64,
}

impl Sample {
    /// Those of a group; equal ones are one.
    fn of(group: &Group, function: Option<Function>, total: f64) -> impl Iterator<Item = Self> {
        let slack = group.span.slack(function);
        let all = group.span.samples();
        let share = group.weight / total / all.len() as f64;
        let count = if all.iter().all(|s| *s == all[0]) {
            1
        } else {
            all.len()
        };
        let each = share * (all.len() / count) as f64;
        all.into_iter().take(count).map(move |one| {
            // The middle of all there is may be anything.
            let anything = one.least.is_nan();
            Self {
                least: if anything {
                    f64::NEG_INFINITY
                } else {
                    one.least - slack
                },
                most: if anything {
                    f64::INFINITY
                } else {
                    one.most + slack
                },
                share: each,
            }
        })
    }
}

/// Belief by place, with its entropy at hand after every change.
struct Places {
    weights: Vec<f64>,
    total: f64,
    /// The sum of w·log₂ w.
    sum: f64,
}

impl Places {
    fn new(count: usize) -> Self {
        Self {
            weights: vec![0.0; count],
            total: 0.0,
            sum: 0.0,
        }
    }

    /// Adds a group, or with −1 takes it away.
    fn put(&mut self, group: &Group, sign: f64) {
        let term = |w: f64| if w > 0.0 { w * w.log2() } else { 0.0 };
        for (place, weight) in &group.places {
            let old = self.weights[*place];
            let new = (old + sign * weight).max(0.0);
            self.weights[*place] = new;
            self.total += new - old;
            self.sum += term(new) - term(old);
        }
    }

    fn entropy(&self) -> f64 {
        if self.total <= 0.0 {
            return 0.0;
        }
        (self.total.log2() - self.sum / self.total).max(0.0)
    }
}

/// The entropy that is to be expected after one of the samples was seen: a sweep upwards through them
/// takes in each group from its lower end on and lets it go after its upper end. The groups come in the
/// order of their lower ends.
fn expected(mut samples: Vec<Sample>, by_least: &[&Group], places: usize) -> f64 {
    let mut by_most = by_least.to_vec();
    by_most.sort_by(|a, b| a.span.most.total_cmp(&b.span.most));
    samples.sort_by(|a, b| a.most.total_cmp(&b.most));
    let mut within = Places::new(places);
    let (mut come, mut gone) = (0, 0);
    let mut out = 0.0;
    for sample in samples {
        while by_least
            .get(come)
            .is_some_and(|g| g.span.least <= sample.most)
        {
            within.put(by_least[come], 1.0);
            come += 1;
        }
        while by_most
            .get(gone)
            .is_some_and(|g| g.span.most < sample.least)
        {
            within.put(by_most[gone], -1.0);
            gone += 1;
        }
        // A coarser range reaches further down than the sample before it.
        while gone > 0 && by_most[gone - 1].span.most >= sample.least {
            gone -= 1;
            within.put(by_most[gone], 1.0);
        }
        out += sample.share * within.entropy();
    }
    out
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use proptest::prelude::*;

    use super::*;

    /// The definition, without the sweep: each sample in turn, held against what every segment says.
    fn one_by_one(beliefs: &Beliefs, spans: &[Span], function: Option<Function>) -> f64 {
        let places = beliefs.iter().map(|b| b.place).collect::<BTreeSet<_>>();
        let of = |keep: &dyn Fn(&Span) -> bool| {
            let weight = |place: &Option<Place>| {
                let both = beliefs.iter().zip(spans);
                let here = both.filter(|(b, span)| b.place == *place && keep(span));
                here.map(|(b, _)| b.weight).sum::<f64>()
            };
            let weights: Vec<f64> = places.iter().map(weight).collect();
            entropy(weights.iter().copied())
        };
        let total: f64 = beliefs.iter().map(|b| b.weight).sum();
        let after: f64 = beliefs
            .iter()
            .zip(spans)
            .map(|(own, span)| {
                let slack = span.slack(function);
                let left = span.samples();
                let left = left.map(|one| of(&|other| one.confusable(*other, slack)));
                own.weight / total * left.iter().sum::<f64>() / 3.0
            })
            .sum();
        (of(&|_| true) - after).max(0.0)
    }

    proptest! {
        #[test]
        fn the_sweep_is_the_definition(
            raw in prop::collection::vec((0..6_usize, 0.001..1.0_f64, 0..200_i32, 0..40_i32, 0..8_u8), 1..25),
            ohms in any::<bool>(),
        ) {
            let says = |(root, (place, weight, at, wide, kind)): (usize, (usize, f64, i32, i32, u8))| {
                let least = f64::from(at) * 0.1;
                let most = if kind == 7 { f64::INFINITY } else { least + f64::from(wide) * 0.02 };
                let (wanders, steady) = [(false, true), (true, false), (true, true)][usize::from(kind.saturating_sub(4).min(2))];
                let believed = Believed { root, place: Some(Place::Conductor(place)), weight };
                (believed, Span { least, most, wanders, steady })
            };
            let (beliefs, spans): (Vec<Believed>, Vec<Span>) = raw.into_iter().enumerate().map(says).unzip();
            let beliefs = Beliefs::from_iter(beliefs);
            let function = Some(if ohms { Function::OHMS } else { Function::DC_VOLTS });
            let (swept, defined) = (information_gain(&beliefs, &spans, function), one_by_one(&beliefs, &spans, function));
            prop_assert!((swept - defined).abs() < 1e-9, "{swept} {defined}");
        }
    }

    /// Places in a row that each may hold the fault, and a probe after the first k: what lies before
    /// the fault reads well and what lies behind it does not.
    fn probe(n: usize, k: usize) -> f64 {
        let one = |place: usize| Believed {
            root: place,
            place: Some(Place::Conductor(place)),
            weight: 1.0 / n as f64,
        };
        let says = |place: usize| Span::steady(if place < k { 0.0 } else { 12.6 });
        let spans: Vec<Span> = (0..n).map(says).collect();
        information_gain(&(0..n).map(one).collect(), &spans, Some(Function::DC_VOLTS))
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
