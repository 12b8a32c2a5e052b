//! What can be read off a trace, and what it looks like in words.

use super::screen::step;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_model::units::{Quantity, Unit};

/// A swing of less than this share of what a channel shows, or of less than this much, is none.
const STEADY: f64 = 0.02;
const STILL: f64 = 0.05;
/// A pulse passes this share of the whole swing on its way up and falls below the other before the next,
/// and what follows within this share of the sweep still belongs to it: it rings.
const UP: f64 = 0.6;
const DOWN: f64 = 0.3;
const RINGS: f64 = 0.06;
/// A trace that goes this share as far one way as the other goes both ways.
const BOTH_WAYS: f64 = 0.4;
/// Current of a spark that burns, in amperes; common practice.
const BURNS_A: f64 = 1e-3;
/// Two sparks burn alike that differ by less than this share.
const BURNS_ALIKE: f64 = 0.25;
/// Two traces differ when a feature does by more than this share of the larger swing, or of the larger
/// duty and frequency: what two looks at one machine may be apart.
const ALIKE: f64 = 0.1;

/// What can be read off a trace.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Features {
    pub least: f64,
    pub most: f64,
    pub mean: f64,
    /// Crossings of the middle upwards, per second; 0 for what hardly swings.
    pub hertz: f64,
    /// Share of the time above the middle.
    pub duty: f64,
    /// Pulses on the screen; what rings after one belongs to it.
    #[serde(default)]
    pub pulses: usize,
    /// How long the longest spark burns, in seconds; of a pickup clip alone, 0 where none does.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub burns_s: Option<f64>,
    #[serde(default)]
    pub looks: Looks,
    /// The same in words: "−4.29 kV to 312 V".
    pub said: Vec<String>,
}

/// What a trace looks like, as one says it before seeing it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Looks {
    pub form: Form,
    pub peak: Peak,
    /// How often it pulses on the screen, where that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub often: Option<Often>,
}

/// How often a trace pulses on a screen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub enum Often {
    #[serde(rename = "never")]
    Never,
    #[serde(rename = "once")]
    Once,
    #[serde(rename = "2 to 4 times")]
    Few,
    #[serde(rename = "5 times or more")]
    Many,
}

impl Often {
    fn of(pulses: usize) -> Self {
        match pulses {
            0 => Self::Never,
            1 => Self::Once,
            2..=4 => Self::Few,
            _ => Self::Many,
        }
    }

    fn text(self) -> &'static str {
        match self {
            Self::Never => "never",
            Self::Once => "once",
            Self::Few => "2 to 4 times",
            Self::Many => "5 times or more",
        }
    }
}

/// How a trace goes.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Form {
    /// It stands still.
    #[default]
    Flat,
    /// It leaves a level to one side and comes back.
    Pulses,
    /// It goes as far one way as the other.
    BothWays,
}

/// How far a trace goes from zero, in volts or amperes.
#[derive(
    Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema,
)]
pub enum Peak {
    #[default]
    #[serde(rename = "under 1")]
    Under1,
    #[serde(rename = "1 to 20")]
    To20,
    #[serde(rename = "20 to 100")]
    To100,
    #[serde(rename = "100 to 600")]
    To600,
    #[serde(rename = "600 to 5000")]
    To5k,
    #[serde(rename = "5000 to 15000")]
    To15k,
    #[serde(rename = "over 15000")]
    Over15k,
}

/// The classes of [`Peak`] by the value that each ends at.
const PEAKS: [(f64, Peak); 6] = [
    (1.0, Peak::Under1),
    (20.0, Peak::To20),
    (100.0, Peak::To100),
    (600.0, Peak::To600),
    (5e3, Peak::To5k),
    (15e3, Peak::To15k),
];

impl Peak {
    fn of(value: f64) -> Self {
        let found = PEAKS.iter().find(|(end, _)| value < *end);
        found.map_or(Self::Over15k, |(_, peak)| *peak)
    }

    /// "100 V to 600 V".
    pub fn text(self, unit: Unit) -> String {
        let one = |v: f64| Quantity::Number(v).text(unit);
        let at = PEAKS.iter().position(|(_, p)| *p == self);
        match at {
            Some(0) => format!("under {}", one(PEAKS[0].0)),
            Some(n) => format!("{} to {}", one(PEAKS[n - 1].0), one(PEAKS[n].0)),
            None => format!("over {}", one(PEAKS[PEAKS.len() - 1].0)),
        }
    }

    /// The next class up or down.
    fn is_next_to(self, other: Self) -> bool {
        (self as i32 - other as i32).abs() == 1
    }
}

impl Form {
    /// "pulses to one side".
    pub fn text(self) -> &'static str {
        match self {
            Self::Flat => "stands still",
            Self::Pulses => "pulses to one side",
            Self::BothWays => "swings both ways",
        }
    }
}

impl Looks {
    /// "pulses to one side, 100 V to 600 V, once".
    pub fn text(self, unit: Unit) -> String {
        let often = self
            .often
            .map_or(String::new(), |o| format!(", {}", o.text()));
        format!("{}, {}{often}", self.form.text(), self.peak.text(unit))
    }

    /// How right it is beside what is so, from 0 to 1: as much for the form as for the size, half as much
    /// for the size next to it, and as much again for how often it pulses where that was said.
    pub fn right(self, so: Self) -> f64 {
        let form = if self.form == so.form { 1.0 } else { 0.0 };
        let peak = match self.peak {
            p if p == so.peak => 1.0,
            p if p.is_next_to(so.peak) => 0.5,
            _ => 0.0,
        };
        match self.often {
            Some(_) if self.often == so.often => (form + peak + 1.0) / 3.0,
            Some(_) => (form + peak) / 3.0,
            None => f64::midpoint(form, peak),
        }
    }

    /// The same as far as it was said.
    #[must_use]
    pub fn as_said_by(self, said: Self) -> Self {
        Self {
            often: said.often.and(self.often),
            ..self
        }
    }
}

impl Features {
    /// The features of seconds and values within a sweep.
    pub(super) fn of(shown: &[(f64, f64)], sweep_s: f64, unit: Unit) -> Self {
        let range = shown
            .iter()
            .fold((f64::INFINITY, f64::NEG_INFINITY), |(l, m), s| {
                (l.min(s.1), m.max(s.1))
            });
        let (least, most) = if shown.is_empty() { (0.0, 0.0) } else { range };
        let (mut area, mut above, mut whole) = (0.0, 0.0, 0.0);
        let middle = f64::midpoint(least, most);
        let mut rises = Vec::new();
        for pair in shown.windows(2) {
            let h = pair[1].0 - pair[0].0;
            whole += h;
            area += h * f64::midpoint(pair[0].1, pair[1].1);
            if f64::midpoint(pair[0].1, pair[1].1) > middle {
                above += h;
            }
            if pair[0].1 <= middle && pair[1].1 > middle {
                rises.push(pair[1].0);
            }
        }
        let largest = most.abs().max(least.abs());
        let swings = most - least > (STEADY * largest).max(STILL);
        let hertz = match (rises.first(), rises.last()) {
            (Some(first), Some(last)) if swings && last > first => {
                (rises.len() - 1) as f64 / (last - first)
            }
            _ => 0.0,
        };
        let mean = if whole > 0.0 { area / whole } else { least };
        let duty = if swings && whole > 0.0 {
            above / whole
        } else {
            0.0
        };
        let pulses = if swings {
            pulses(shown, (least, most), mean, sweep_s)
        } else {
            0
        };
        let smaller = most.abs().min(least.abs());
        let form = match swings {
            false => Form::Flat,
            true if least < 0.0 && most > 0.0 && smaller > BOTH_WAYS * largest => Form::BothWays,
            true => Form::Pulses,
        };
        let text = |v: f64| Quantity::Number(v).text(unit);
        let mut said = vec![if swings {
            format!("{} to {}", text(least), text(most))
        } else {
            format!("steady {}", text(mean))
        }];
        if swings {
            said.push(format!("mean {}", text(mean)));
            said.push(counted(pulses));
        }
        if hertz > 0.0 {
            said.push(Quantity::Number(hertz).text(Unit::Hertz));
            said.push(format!("{:.0} % above the middle", duty * 100.0));
        }
        let step = step(shown);
        Self {
            least: step.round(least),
            most: step.round(most),
            mean: step.round(mean),
            hertz: (hertz * 100.0).round() / 100.0,
            duty: (duty * 1000.0).round() / 1000.0,
            pulses,
            burns_s: None,
            looks: Looks {
                form,
                peak: Peak::of(largest),
                often: Some(Often::of(pulses)),
            },
            said,
        }
    }

    /// The same of a pickup clip, with how long the longest spark burns, in seconds.
    #[must_use]
    pub(super) fn burning(mut self, burns_s: f64) -> Self {
        self.burns_s = Some((burns_s * 1e6).round() / 1e6);
        if burns_s >= 1e-5 {
            let text = format!("burns {:.2} ms", burns_s * 1e3);
            self.said.insert(1.min(self.said.len()), text);
        }
        self
    }

    /// What of it is not as in another trace, in words; empty where they are alike.
    pub fn differs(&self, other: &Self, unit: Unit) -> Vec<String> {
        let swing = (self.most - self.least).max(other.most - other.least);
        let off = |a: f64, b: f64| (a - b).abs() > (ALIKE * swing).max(STILL);
        let mut out = Vec::new();
        let mut add = |name: &str, a: f64, b: f64| {
            if off(a, b) {
                let text = |v: f64| Quantity::Number(v).text(unit);
                out.push(format!("{name} {} against {}", text(a), text(b)));
            }
        };
        add("most", self.most, other.most);
        add("least", self.least, other.least);
        add("mean", self.mean, other.mean);
        if let (Some(a), Some(b)) = (self.burns_s, other.burns_s)
            && (a - b).abs() > BURNS_ALIKE * a.max(b)
        {
            let ms = |s: f64| format!("{:.2} ms", s * 1e3);
            out.push(match (a > 0.0, b > 0.0) {
                (false, _) => format!("no spark against one of {}", ms(b)),
                (_, false) => format!("a spark of {} against none", ms(a)),
                _ => format!("burns {} against {}", ms(a), ms(b)),
            });
        }
        if self.pulses != other.pulses {
            out.push(format!("{} against {}", counted(self.pulses), other.pulses));
        }
        out
    }
}

/// How long the longest spark of a lead burns, in seconds, by the amperes that flow in it.
pub(super) fn burns_s(amps: &[(f64, f64)]) -> f64 {
    let mut longest = 0.0_f64;
    let mut since_s: Option<f64> = None;
    for (at_s, i) in amps {
        match since_s {
            _ if i.abs() < BURNS_A => since_s = None,
            None => since_s = Some(*at_s),
            Some(from_s) => longest = longest.max(at_s - from_s),
        }
    }
    longest
}

/// How often a trace leaves where it mostly is, each time once however it rings.
fn pulses(shown: &[(f64, f64)], (least, most): (f64, f64), mean: f64, sweep_s: f64) -> usize {
    let swing = most - least;
    // Pulses stand out from the side that the trace is mostly on.
    let up = most - mean > mean - least;
    let share = |v: f64| (if up { v - least } else { most - v }) / swing;
    let (mut count, mut out, mut last_s) = (0, false, f64::NEG_INFINITY);
    for (at_s, v) in shown {
        if share(*v) > UP {
            if !out && at_s - last_s > RINGS * sweep_s {
                count += 1;
            }
            out = true;
            last_s = *at_s;
        } else if share(*v) < DOWN {
            out = false;
        }
    }
    count
}

/// "1 pulse", "4 pulses".
fn counted(pulses: usize) -> String {
    let plural = if pulses == 1 { "" } else { "s" };
    format!("{pulses} pulse{plural}")
}
