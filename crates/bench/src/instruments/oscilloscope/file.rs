//! Screens as CSV: seconds from the trigger, then each channel's least and most.

use super::features::Features;
use super::screen::{COLUMNS, laid_out};
use super::{CHANNELS, Capture, Probe, Trace, name};
use cimento_model::units::Unit;

/// Most rows of a screen that is taken in.
const MOST_ROWS: usize = 4 * COLUMNS;

impl Capture {
    /// The screen as CSV.
    pub fn csv(&self) -> String {
        let mut out = csv::Writer::from_writer(Vec::new());
        let names = self.traces.iter().flat_map(|t| {
            [
                format!("{} least {}", t.name, t.unit),
                format!("{} most {}", t.name, t.unit),
            ]
        });
        // Writing to memory does not fail.
        let _ = out.write_record(std::iter::once("seconds".to_owned()).chain(names));
        // One that came from a file has as many columns as it has there.
        let columns = self.traces.iter().map(|t| t.columns.len()).min();
        let columns = columns.unwrap_or(0);
        for column in 0..columns {
            let at = (column as f64 + 0.5) / columns as f64 * self.sweep_s - self.before_s;
            let values = self.traces.iter().flat_map(|t| t.columns[column]);
            let row = std::iter::once(at).chain(values).map(|v| format!("{v:.6}"));
            let _ = out.write_record(row);
        }
        String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
    }

    /// Reads what [`Capture::csv`] writes.
    ///
    /// # Errors
    /// A sentence that says in which line what was expected.
    pub fn from_csv(text: &str) -> Result<Self, String> {
        let mut reader = csv::Reader::from_reader(text.trim_start_matches('\u{feff}').as_bytes());
        let header = reader.headers().map_err(|e| e.to_string())?.clone();
        let titles: Vec<&str> = header.iter().collect();
        let channels = titles.len().saturating_sub(1) / 2;
        if titles.first() != Some(&"seconds") || titles.len() != 2 * channels + 1 {
            return Err(
                "line 1: expected seconds, then a least and a most for each channel".to_owned(),
            );
        }
        if !(1..=CHANNELS).contains(&channels) {
            return Err(format!(
                "line 1: expected 1 to {CHANNELS} channels, found {channels}"
            ));
        }
        let mut probes = Vec::new();
        for pair in titles[1..].chunks(2) {
            probes.push(channel(pair[0], pair[1])?);
        }
        let mut rows: Vec<Vec<f64>> = Vec::new();
        for (n, record) in reader.records().enumerate() {
            let line = n + 2;
            let record = record.map_err(|e| format!("line {line}: {e}"))?;
            let numbers = record.iter().map(|field| {
                let number = field.trim().parse::<f64>().ok().filter(|v| v.is_finite());
                number.ok_or_else(|| format!("line {line}: “{field}” is no number"))
            });
            rows.push(numbers.collect::<Result<_, _>>()?);
            if rows.len() > MOST_ROWS {
                return Err(format!("line {line}: expected at most {MOST_ROWS} rows"));
            }
        }
        let [first, .., last] = rows.as_slice() else {
            return Err("expected at least two rows after the first line".to_owned());
        };
        let width = (last[0] - first[0]) / (rows.len() - 1) as f64;
        let steady = rows
            .windows(2)
            .position(|p| width <= 0.0 || (p[1][0] - p[0][0] - width).abs() > 0.01 * width + 2e-6);
        if let Some(at) = steady {
            return Err(format!(
                "line {}: expected seconds that rise by equal steps",
                at + 3
            ));
        }
        let sweep_s = width * rows.len() as f64;
        let traces = probes.into_iter().enumerate().map(|(n, (probe, unit))| {
            let columns: Vec<[f64; 2]> =
                rows.iter().map(|r| [r[2 * n + 1], r[2 * n + 2]]).collect();
            let features = Features::of(&laid_out(&columns, width), sweep_s, unit);
            Trace {
                name: name(&probe),
                probe,
                unit: unit.sign().to_owned(),
                features,
                columns,
            }
        });
        Ok(Self {
            state: "from a file".to_owned(),
            sweep_s,
            before_s: (width / 2.0 - first[0]).clamp(0.0, sweep_s),
            triggered: first[0] < 0.0,
            traces: traces.collect(),
        })
    }
}

/// What a channel of a file was put to, by the titles of its two columns.
fn channel(least: &str, most: &str) -> Result<(Probe, Unit), String> {
    let bad = || format!("line 1: “{least}” and “{most}” are no least and most of one channel");
    let (name, sign) = least.rsplit_once(" least ").ok_or_else(bad)?;
    if most != format!("{name} most {sign}") {
        return Err(bad());
    }
    let unit = match sign {
        "A" => Unit::Ampere,
        "V" => Unit::Volt,
        _ => {
            return Err(format!(
                "line 1: a channel is counted in V or A, not in {sign}"
            ));
        }
    };
    let probe = if let Some(lead) = name.strip_suffix(", pickup") {
        Probe::Pickup {
            lead: lead.to_owned(),
        }
    } else if let Some(wire) = name.strip_suffix(", clamp") {
        Probe::Clamp {
            wire: wire.to_owned(),
        }
    } else {
        let (red, black) = name.split_once(" to ").unwrap_or((name, "BAT.-"));
        Probe::Leads {
            red: red.to_owned(),
            black: black.to_owned(),
        }
    };
    Ok((probe, unit))
}
