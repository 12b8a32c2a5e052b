//! What two cursors on a screen read: the time between them, and what each channel does there.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Capture;
use super::features::Features;
use super::screen::laid_out;
use cimento_model::units::{Quantity, Unit};

/// A cursor stands on a column.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Cursors {
    pub a: usize,
    pub b: usize,
}

/// What they read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CursorReading {
    /// "2.00 ms, 500.00 Hz".
    pub time: String,
    /// Lines for each channel: "12.48 V to 0.31 V", "change −12.17 V", "55 % high".
    pub channels: Vec<Vec<String>>,
}

impl Capture {
    /// What two cursors read, whichever of them is on the left.
    ///
    /// # Errors
    /// A sentence that says what was expected, for a cursor that is not on the screen.
    pub fn between(&self, cursors: Cursors) -> Result<CursorReading, String> {
        let columns = self.traces.iter().map(|t| t.columns.len());
        let columns = columns.min().unwrap_or(0);
        let (a, b) = (cursors.a.min(cursors.b), cursors.a.max(cursors.b));
        if b >= columns {
            return Err(format!(
                "a cursor stands on a column from 0 to {}: {b} is none",
                columns.saturating_sub(1)
            ));
        }
        let width = self.sweep_s / columns as f64;
        let seconds = (b - a) as f64 * width;
        let hertz = (seconds > 0.0).then(|| Quantity::Number(1.0 / seconds).text(Unit::Hertz));
        let time = match hertz {
            Some(hertz) => format!("{}, {hertz}", said(seconds)),
            None => said(seconds),
        };
        let channels = self.traces.iter().map(|trace| {
            let unit = trace.measures();
            let text = |v: f64| Quantity::Number(v).text(unit);
            let middle = |n: usize| f64::midpoint(trace.columns[n][0], trace.columns[n][1]);
            let mut out = vec![text(middle(a))];
            if b > a {
                out[0] += &format!(" to {}", text(middle(b)));
                out.push(format!("change {}", text(middle(b) - middle(a))));
                let between = laid_out(&trace.columns[a..=b], width);
                let seen = Features::of(&between, seconds, unit);
                if seen.duty > 0.0 {
                    out.push(format!("{:.0} % high", seen.duty * 100.0));
                }
            }
            out
        });
        Ok(CursorReading {
            time,
            channels: channels.collect(),
        })
    }
}

/// Seconds as they are written on a scope.
fn said(seconds: f64) -> String {
    if seconds >= 1.0 {
        format!("{seconds:.3} s")
    } else if seconds >= 1e-3 {
        format!("{:.2} ms", seconds * 1e3)
    } else {
        format!("{:.1} µs", seconds * 1e6)
    }
}
