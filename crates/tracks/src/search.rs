//! Finds a placement: simulated annealing with one seed, one run and whole numbers.
//!
//! After S. Kirkpatrick, C. D. Gelatt and M. P. Vecchi, "Optimization by simulated annealing", Science 220 (1983).

use crate::cost::{Cost, Costing};
use crate::placement::Placement;
use crate::plan::{Plan, Way};

const SEED: u64 = 0x049f_baaf_9bde_b399;
/// First and last temperature, in costs.
const HOT: i64 = 4000;
const COLD: i64 = 30;
/// Steps for each slot and hub, at most so many in all, and fewer where each takes long.
const STEPS_EACH: u64 = 8_000;
const STEPS: u64 = 280_000;
const WORK: u64 = 16_000_000;
/// So many pieces are costed at most in the first search, and in all of them: 30 to 50 million take a second. A circuit
/// that is not finished has more pieces than one that is, and no end of what stands on its head.
pub(crate) const FIRST_PIECES: u64 = 26_000_000;
const PIECES: u64 = 28_000_000;

/// A generator of numbers that is the same on every machine: xorshift64*, G. Marsaglia, "Xorshift RNGs",
/// Journal of Statistical Software 8 (2003), with S. Vigna's multiplier.
pub(crate) struct Numbers(u64);

impl Numbers {
    pub(crate) fn new(seed: u64) -> Self {
        Self(seed | 1)
    }

    fn next(&mut self) -> u64 {
        self.0 ^= self.0 >> 12;
        self.0 ^= self.0 << 25;
        self.0 ^= self.0 >> 27;
        self.0.wrapping_mul(0x2545_f491_4f6c_dd1d)
    }

    /// Less than `n`, which is not zero.
    pub(crate) fn below(&mut self, n: usize) -> usize {
        let n = n as u64;
        let high = (u128::from(self.next()) * u128::from(n)) >> 64;
        high as usize
    }

    pub(crate) fn chance(&mut self, percent: usize) -> bool {
        self.below(100) < percent
    }

    /// −log₂ of a number between 0 and 1, in 1/256: the binary exponent, and a straight line between powers.
    fn minus_log2(&mut self) -> i64 {
        let n = self.next() | 1;
        let zeros = i64::from(n.leading_zeros());
        let mantissa = ((n << zeros) >> 55) & 0xff;
        (zeros + 1) * 256 - mantissa as i64
    }
}

/// The best placement found.
pub(crate) fn place(plan: &Plan<'_>) -> Placement {
    let mut costing = Costing::new(plan);
    let first = Placement::first(plan);
    let things = (first.column.len() + plan.hubs.len()) as u64;
    let steps = (things * STEPS_EACH).min(STEPS).min(WORK / things.max(1));
    let schedule = Schedule {
        steps,
        hot: HOT,
        cold: COLD,
        pieces: FIRST_PIECES,
    };
    let mut best = anneal(&mut costing, first, &schedule, |at, numbers| {
        change(plan, at, numbers)
    });
    upright(&mut costing, &mut best, steps);
    // A large circuit may not have settled: it goes on looking, colder, and what still lies on another is set beside it.
    if costing.cost(&best).forbidden > 0 {
        best.columns += SPARE;
        let schedule = Schedule {
            steps: steps / 3,
            hot: HOT / 8,
            cold: COLD,
            pieces: PIECES.saturating_sub(costing.costed),
        };
        best = anneal(&mut costing, best, &schedule, |at, numbers| {
            change(plan, at, numbers)
        });
        mend(&mut costing, &mut best);
    }
    best.compact(plan);
    best
}

/// So much more than at first it costs then to stand on one's head.
const UPRIGHT: i64 = 8000;
/// And that a wire is cut: what stands upright is not to be bought with that.
const WHOLE: i64 = 3000;
/// So many ways of turning something over are tried, and how much colder than at first each settles, until one reads as
/// well as before.
const WAYS: usize = 2;
const SHAKEN: [i64; 2] = [1, 4];
/// So often at most that is tried in all, a fifth of the first search each: a circuit in which much stands on its head
/// is one that is not finished.
const SETTLINGS: usize = 4;

/// Turns over what stands on its head: its box goes above or below what feeds it, with the wires between them cut or
/// whole. That takes several steps at once, each of which alone makes things worse; the best of them settle, and the
/// first that costs less and reads as well is kept.
fn upright(costing: &mut Costing<'_, '_>, at: &mut Placement, steps: u64) {
    let plan = costing.plan;
    costing.upright = UPRIGHT;
    costing.whole = WHOLE;
    let mut left = SETTLINGS;
    for (hub, track) in costing.upside_down(at) {
        let before = costing.cost(at);
        if before.turned == 0 || left == 0 {
            break;
        }
        let mut ways = turned_over(costing, at, hub, track);
        ways.sort_by_key(|(cost, _)| cost.total);
        ways.truncate(WAYS);
        let settled = ways.into_iter().find_map(|(_, mut tried)| {
            tried.columns += SPARE;
            SHAKEN.into_iter().find_map(|heat| {
                left = left.checked_sub(1)?;
                let schedule = Schedule {
                    steps: steps / 5,
                    hot: HOT / heat,
                    cold: COLD,
                    pieces: PIECES.saturating_sub(costing.costed),
                };
                let settled = anneal(costing, tried.clone(), &schedule, |at, numbers| {
                    change(plan, at, numbers);
                });
                let after = costing.cost(&settled);
                let better = after.total < before.total && after.reads_as_well_as(&before);
                better.then_some(settled)
            })
        });
        if let Some(settled) = settled {
            *at = settled;
        }
    }
    costing.upright = 0;
    costing.whole = 0;
}

/// The ways in which fewer things stand on their heads once a hub is ranked elsewhere, with a track at it cut or whole.
fn turned_over(
    costing: &mut Costing<'_, '_>,
    at: &Placement,
    hub: usize,
    track: usize,
) -> Vec<(Cost, Placement)> {
    let plan = costing.plan;
    let fixed = Placement::fixed(plan);
    let before = costing.cost(at);
    let now = at.order.iter().position(|h| *h == hub).unwrap_or(fixed);
    let mut downs = vec![None];
    if plan.tracks[track].may_be_cut() {
        let both = [true, false];
        downs.extend(both.iter().flat_map(|a| both.map(|b| Some([*a, b]))));
    }
    let mut ways = Vec::new();
    for rank in fixed..at.order.len() {
        let mut moved = at.clone();
        moved.order.remove(now);
        moved.order.insert(rank, hub);
        for down in &downs {
            let tried = match down {
                None => moved.clone(),
                Some(down) => moved.cut_in_two(plan, track, *down),
            };
            let cost = costing.cost(&tried);
            if cost.turned < before.turned {
                ways.push((cost, tried));
            }
        }
    }
    ways
}

/// Columns more, for what has to be set apart.
const SPARE: usize = 8;
/// What lies on another is set elsewhere so often at most, and so many things are tried each time.
const MENDS: usize = 60;
const TRIED: usize = 6;

/// Sets each thing that is where it may not be into the column where that costs least.
fn mend(costing: &mut Costing<'_, '_>, at: &mut Placement) {
    let plan = costing.plan;
    let tracks = plan.tracks.len();
    for _ in 0..MENDS {
        let now = costing.cost(at);
        if now.forbidden == 0 {
            return;
        }
        at.compact(plan);
        let offenders = costing.offenders(at);
        let mut best: Option<(Cost, Placement)> = None;
        let mut consider = |costing: &mut Costing<'_, '_>, tried: Placement| {
            let cost = costing.cost(&tried);
            let known = best.as_ref().map_or(now, |(cost, _)| *cost);
            if (cost.forbidden, cost.total) < (known.forbidden, known.total) {
                best = Some((cost, tried));
            }
        };
        for slot in offenders.into_iter().take(TRIED) {
            for between in 0..=at.columns {
                let mut tried = at.clone();
                tried.set_apart(slot, between);
                consider(costing, tried);
            }
            let track = slot % tracks.max(1);
            if slot < 2 * tracks && at.cut[track].is_none() && plan.tracks[track].may_be_cut() {
                for down in [[true, false], [false, true], [true, true], [false, false]] {
                    consider(costing, at.cut_in_two(plan, track, down));
                }
            }
        }
        match best {
            Some((_, better)) => *at = better,
            None => return,
        }
    }
}

/// How long to search, and how hot.
pub(crate) struct Schedule {
    pub(crate) steps: u64,
    pub(crate) hot: i64,
    pub(crate) cold: i64,
    /// So many pieces are costed at most: it cools quicker where each placement has many.
    pub(crate) pieces: u64,
}

/// Goes from placement to placement by steps of some kind, and gives the best that was met.
pub(crate) fn anneal(
    costing: &mut Costing<'_, '_>,
    first: Placement,
    schedule: &Schedule,
    mut step: impl FnMut(&mut Placement, &mut Numbers),
) -> Placement {
    let mut numbers = Numbers::new(SEED);
    let mut now = first;
    let mut cost = costing.cost(&now);
    let mut best = now.clone();
    let mut best_cost = cost;
    let mut tried = now.clone();
    // The temperature falls by the same share each hundredth of the way.
    let stages: u64 = 100;
    let mut temperature = schedule.hot * 1000;
    let ratio = cooling(schedule.hot, schedule.cold, stages);
    let began = costing.costed;
    for stage in 0..stages {
        let heat = temperature / 1000;
        let mut each = schedule.steps / stages;
        if stage > 0 {
            // As many steps as there is room for: the first, in which much is tried to the end, take twice the mean.
            let left = stages - stage - 1;
            let room = schedule.pieces - schedule.pieces / (stages * stages) * left * left;
            let taken = costing.costed - began;
            let by_now = stage * (schedule.steps / stages);
            each = each.min(room.saturating_sub(taken) * by_now / taken.max(1));
        }
        for _ in 0..each {
            tried.clone_from(&now);
            step(&mut tried, &mut numbers);
            if numbers.chance(25) {
                step(&mut tried, &mut numbers);
            }
            // Metropolis: worse by d is taken with probability exp(−d/T); ln 2 is 177/256. So much is drawn first, and
            // what is worse than that is not worked out to the end.
            let worse = heat * 177 * numbers.minus_log2() / 65_536;
            if let Some(next) = costing.cost_below(&tried, cost.total + worse)
                && next.total <= cost.total + worse
            {
                std::mem::swap(&mut now, &mut tried);
                cost = next;
                if (cost.forbidden, cost.total) < (best_cost.forbidden, best_cost.total) {
                    best_cost = cost;
                    best.clone_from(&now);
                }
            }
        }
        temperature = temperature * ratio / 1_000_000;
        // Towards the end it goes on from the best.
        if stage == stages * 3 / 4 {
            now.clone_from(&best);
            cost = best_cost;
        }
    }
    best
}

/// The share, in millionths, that takes one temperature to another in so many stages: found by halving.
fn cooling(hot: i64, cold: i64, stages: u64) -> i64 {
    let after = |ratio: i64| (0..stages).fold(hot * 1000, |t, _| t * ratio / 1_000_000);
    let (mut low, mut high) = (500_000, 1_000_000);
    while high - low > 1 {
        let middle = (low + high) / 2;
        if after(middle) < cold * 1000 {
            low = middle
        } else {
            high = middle
        }
    }
    high
}

/// One step to a neighbour.
fn change(plan: &Plan<'_>, at: &mut Placement, numbers: &mut Numbers) {
    let tracks = plan.tracks.len();
    let columns = at.columns;
    let slot = |at: &Placement, numbers: &mut Numbers| {
        let slot = numbers.below(at.column.len());
        if at.uses(plan, slot) {
            slot
        } else {
            slot - tracks
        }
    };
    if at.column.is_empty() {
        return;
    }
    match numbers.below(100) {
        0..30 => {
            let slot = slot(at, numbers);
            let old = at.column[slot];
            match numbers.below(6) {
                0 => at.column[slot] = old.saturating_sub(1),
                1 => at.column[slot] = (old + 1).min(columns - 1),
                2 | 3 => own_column(plan, at, slot, numbers),
                _ => at.column[slot] = numbers.below(columns),
            }
        }
        30..42 => {
            let (a, b) = (slot(at, numbers), slot(at, numbers));
            at.column.swap(a, b);
        }
        42..50 => {
            let (a, b) = (slot(at, numbers), slot(at, numbers));
            at.column[a] = at.column[b];
        }
        50..58 => {
            let (a, b) = (numbers.below(columns), numbers.below(columns));
            for column in &mut at.column {
                if *column == a {
                    *column = b;
                } else if *column == b {
                    *column = a;
                }
            }
        }
        58..65 => {
            let (from, many) = (numbers.below(columns), 2 + numbers.below(7));
            let (to, turn) = (numbers.below(columns), numbers.chance(50));
            move_block(at, from, many, to, turn);
        }
        65..76 => {
            let (from, to) = (numbers.below(columns), numbers.below(columns));
            move_block(at, from, 1, to, false);
        }
        76..87 => {
            let fixed = Placement::fixed(plan);
            let free = at.order.len() - fixed.min(at.order.len());
            if free >= 2 {
                let (a, b) = (fixed + numbers.below(free), fixed + numbers.below(free));
                let hub = at.order.remove(a);
                at.order.insert(b, hub);
            }
        }
        87..92 if tracks > 0 => {
            let track = numbers.below(tracks);
            let wires = plan.tracks[track].wires.len();
            if plan.tracks[track].is_case_alone() {
                at.cut[track] = at.cut[track].map_or(Some(0), |_| None);
            } else if plan.tracks[track].may_be_cut() {
                if at.cut[track].is_none() {
                    at.cut[track] = Some(numbers.below(wires));
                    at.column[tracks + track] = numbers.below(columns);
                } else {
                    at.cut[track] = if numbers.chance(70) {
                        None
                    } else {
                        Some(numbers.below(wires))
                    };
                }
            }
        }
        _ if tracks > 0 => {
            let slot = numbers.below(2 * tracks);
            let track = slot % tracks;
            let turns = at.cut[track].is_some() || plan.tracks[track].way == Way::Jumper;
            if turns && numbers.chance(50) {
                at.down[slot] = !at.down[slot];
            } else {
                at.flat[track] = !at.flat[track];
            }
        }
        _ => {}
    }
}

/// Gives a slot a column of its own between two others.
fn own_column(plan: &Plan<'_>, at: &mut Placement, slot: usize, numbers: &mut Numbers) {
    let columns = at.columns;
    at.compact(plan);
    let between = numbers.below(at.columns + 1);
    if at.columns < columns {
        at.set_apart(slot, between);
    }
    at.columns = columns;
}

/// Takes a block of columns out and sets it in elsewhere, turned about or not.
fn move_block(at: &mut Placement, from: usize, many: usize, to: usize, turn: bool) {
    let columns = at.columns;
    let many = many.min(columns - from);
    let to = to.min(columns - many);
    for column in &mut at.column {
        let k = *column;
        *column = if (from..from + many).contains(&k) {
            let inside = k - from;
            to + if turn { many - 1 - inside } else { inside }
        } else {
            let without = if k >= from + many { k - many } else { k };
            if without >= to {
                without + many
            } else {
                without
            }
        };
    }
}

/// What a placement costs.
pub(crate) fn cost(plan: &Plan<'_>, placement: &Placement) -> Cost {
    Costing::new(plan).cost(placement)
}
