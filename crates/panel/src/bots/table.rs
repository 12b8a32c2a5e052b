//! The bots' marks as a table.

use cimento_diagnosis::attempt::Session;
use cimento_diagnosis::marking::{Case, MarkSheet, sheet};
use cimento_diagnosis::suspects::Reference;

use super::{Bot, BotError, Choose, sensible_with};

/// Attempts of a bot that goes by chance.
pub const RUNS: u64 = 20;
/// Chances of a sensible step that are compared, from 0 to 1.
const LEVELS: u32 = 10;

/// What a bot gets at a lesson.
#[derive(Debug, Clone, PartialEq)]
pub struct Row {
    /// The mean of its totals.
    pub mean: f64,
    pub least: f64,
    pub most: f64,
}

impl Bot {
    /// It does the same each time.
    fn is_certain(&self) -> bool {
        let by_chance = matches!(
            self.choose,
            Choose::Random | Choose::Telling | Choose::Mixed(_)
        );
        !by_chance && self.mends != super::Mends::PartsUntilGone
    }

    /// The mark sheet of one attempt.
    ///
    /// # Errors
    /// [`BotError`] when a circuit that has to be computed has no solution.
    pub fn marked(&self, reference: &Reference, seed: u64) -> Result<MarkSheet, BotError> {
        let actions = self.work(reference, seed)?;
        let session = Session::replay(&reference.lesson, &actions)?;
        Ok(sheet(&Case::new(reference, session.steps())?)?)
    }
}

/// What a bot gets at a lesson, over its runs.
///
/// # Errors
/// As [`Bot::marked`].
pub fn row(bot: &Bot, reference: &Reference, runs: u64) -> Result<Row, BotError> {
    let runs = if bot.is_certain() { 1 } else { runs };
    let mut out = Row {
        mean: 0.0,
        least: f64::INFINITY,
        most: 0.0,
    };
    for seed in 0..runs {
        let total = bot.marked(reference, seed)?.total;
        out.mean += total / runs as f64;
        out.least = out.least.min(total);
        out.most = out.most.max(total);
    }
    Ok(out)
}

/// Mean totals by the chance of a sensible step.
///
/// # Errors
/// As [`Bot::marked`].
pub fn sensible_by_chance(reference: &Reference, runs: u64) -> Result<Vec<f64>, BotError> {
    let chance = |level: u32| f64::from(level) / f64::from(LEVELS - 1);
    let means =
        (0..LEVELS).map(|level| Ok(row(&sensible_with(chance(level)), reference, runs)?.mean));
    means.collect()
}

/// Spearman's rank correlation of some figures with their order: 1 where each is above the one before. Equal
/// figures share a rank. (C. Spearman, American Journal of Psychology 15, 1904.)
pub fn rank_correlation(figures: &[f64]) -> f64 {
    let rank = |x: f64| {
        let below = figures.iter().filter(|y| **y < x).count() as f64;
        let equal = figures.iter().filter(|y| **y == x).count() as f64;
        below + (equal + 1.0) / 2.0
    };
    let ranks: Vec<f64> = figures.iter().map(|x| rank(*x)).collect();
    let middle = (figures.len() as f64 + 1.0) / 2.0;
    let (mut both, mut own, mut order) = (0.0, 0.0, 0.0);
    for (n, r) in ranks.iter().enumerate() {
        let (a, b) = (n as f64 + 1.0 - middle, r - middle);
        both += a * b;
        order += a * a;
        own += b * b;
    }
    match own {
        0.0 => 0.0,
        _ => both / (own * order).sqrt(),
    }
}
