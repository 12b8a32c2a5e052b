//! A sweep laid out on the screen: the least and the most in each column.

use super::Samples;

/// Columns of a screen; each shows the least and the most within it.
pub(super) const COLUMNS: usize = 600;
/// Digits after the first of what a screen tells apart.
const DIGITS: f64 = 3.0;
/// And the least that it shows at all, in volts or amperes: a point that hangs on nothing has no digits of its own.
const LEAST: f64 = 1e-3;

/// One channel's samples within a window, its edges included.
pub(super) fn cut(samples: &Samples, channel: usize, from_s: f64, to_s: f64) -> Vec<(f64, f64)> {
    let at = |t: f64, pair: &[(f64, Vec<f64>)]| {
        let ((t0, v0), (t1, v1)) = (
            (pair[0].0, pair[0].1[channel]),
            (pair[1].0, pair[1].1[channel]),
        );
        (
            t,
            if t1 > t0 {
                v0 + (v1 - v0) * (t - t0) / (t1 - t0)
            } else {
                v1
            },
        )
    };
    let mut out = Vec::new();
    for pair in samples.windows(2) {
        let (t0, t1) = (pair[0].0, pair[1].0);
        if t1 < from_s || t0 > to_s {
            continue;
        }
        if out.is_empty() {
            out.push(at(t0.max(from_s), pair));
        }
        out.push(at(t1.min(to_s), pair));
    }
    out
}

/// What is seen of a sweep by looking once for each column.
pub(super) fn sampled(shown: &[(f64, f64)], from_s: f64, sweep_s: f64) -> Vec<(f64, f64)> {
    let width = sweep_s / COLUMNS as f64;
    let mut pairs = shown.windows(2).peekable();
    let mut out = Vec::with_capacity(COLUMNS + 1);
    for n in 0..=COLUMNS {
        let t = from_s + width * n as f64;
        while pairs.peek().is_some_and(|p| p[1].0 < t) {
            pairs.next();
        }
        let Some(pair) = pairs.peek() else { break };
        let ((t0, v0), (t1, v1)) = (pair[0], pair[1]);
        let share = if t1 > t0 {
            ((t - t0) / (t1 - t0)).clamp(0.0, 1.0)
        } else {
            1.0
        };
        out.push((t, v0 + (v1 - v0) * share));
    }
    out
}

pub(super) fn columns(shown: &[(f64, f64)], from_s: f64, sweep_s: f64) -> Vec<[f64; 2]> {
    let mut out = vec![[f64::INFINITY, f64::NEG_INFINITY]; COLUMNS];
    let width = sweep_s / COLUMNS as f64;
    let column = |t: f64| (((t - from_s) / width) as usize).min(COLUMNS - 1);
    for pair in shown.windows(2) {
        let ((t0, v0), (t1, v1)) = (pair[0], pair[1]);
        for (n, cell) in out
            .iter_mut()
            .enumerate()
            .take(column(t1) + 1)
            .skip(column(t0))
        {
            let left = from_s + width * n as f64;
            for t in [left.max(t0), (left + width).min(t1)] {
                let v = if t1 > t0 {
                    v0 + (v1 - v0) * (t - t0) / (t1 - t0)
                } else {
                    v1
                };
                cell[0] = cell[0].min(v);
                cell[1] = cell[1].max(v);
            }
        }
    }
    // A sweep that ends before its screen does repeats the last it saw.
    let mut last = shown.last().map_or(0.0, |s| s.1);
    for cell in &mut out {
        if cell[0] > cell[1] {
            *cell = [last, last];
        }
        last = cell[1];
    }
    let step = step(shown);
    out.iter_mut().flatten().for_each(|v| *v = step.round(*v));
    out
}

/// The columns of a screen as seconds and values again, each `width_s` wide.
pub(super) fn laid_out(columns: &[[f64; 2]], width_s: f64) -> Vec<(f64, f64)> {
    let each = columns.iter().enumerate();
    each.flat_map(|(n, [least, most])| {
        let at_s = width_s * n as f64;
        [(at_s, *least), (at_s + width_s / 2.0, *most)]
    })
    .collect()
}

/// What a screen tells apart. Digits beyond that would tell more of the machine than any instrument.
#[derive(Debug, Clone, Copy)]
pub(super) struct Step(f64);

/// The step of a trace: so many digits of the largest that is on it.
pub(super) fn step(shown: &[(f64, f64)]) -> Step {
    let largest = shown.iter().map(|(_, v)| v.abs()).fold(0.0, f64::max);
    match largest > 0.0 {
        true => Step(10f64.powf(largest.log10().floor() - DIGITS).max(LEAST)),
        false => Step(1.0),
    }
}

impl Step {
    pub fn round(self, value: f64) -> f64 {
        // Dividing by a whole number keeps the decimal short.
        if self.0 < 1.0 {
            let per_unit = (1.0 / self.0).round();
            (value * per_unit).round() / per_unit
        } else {
            (value / self.0).round() * self.0
        }
    }
}
