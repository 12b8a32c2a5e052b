//! Wire list: CSV, one row a wire, in and out.

use std::str::FromStr;

use super::document::WireDoc;
use super::problem::{Problem, Refused};
use crate::units::Colour;

const HEADER: [&str; 7] = [
    "id", "from", "to", "area_mm2", "length_m", "color", "harness",
];

/// The wires as CSV with a header. AWG is written as its area.
pub fn write_wire_list(wires: &[WireDoc]) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    let number = |n: Option<f64>| n.map(|n| n.to_string()).unwrap_or_default();
    // Writing to memory does not fail.
    let _ = out.write_record(HEADER);
    for w in wires {
        let area = w.area_mm2.or(w.awg.map(crate::units::awg_area_mm2));
        let colour = w.color.clone().map(String::from).unwrap_or_default();
        let _ = out.write_record([
            w.id.as_str(),
            &w.from,
            &w.to,
            &number(area),
            &number(w.length_m),
            &colour,
            w.harness.as_deref().unwrap_or_default(),
        ]);
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

/// Reads a wire list.
///
/// # Errors
/// [`Refused`] with the row and column of every mistake.
pub fn read_wire_list(text: &str) -> Result<Vec<WireDoc>, Refused> {
    let mut reader = csv::ReaderBuilder::new()
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let header = reader.headers().cloned().unwrap_or_default();
    if header.iter().ne(HEADER) {
        let message = format!("expected the columns {}", HEADER.join(","));
        return Err(Refused(vec![Problem::refused("row 1", message)]));
    }
    let (mut wires, mut problems) = (Vec::new(), Vec::new());
    for (n, record) in reader.records().enumerate() {
        let row = n + 2;
        let record = match record {
            Ok(record) => record,
            Err(e) => {
                problems.push(Problem::refused(format!("row {row}"), e.to_string()));
                continue;
            }
        };
        let text = |at: usize| record.get(at).filter(|t| !t.is_empty()).map(str::to_owned);
        let mut number = |at: usize| -> Option<f64> {
            let t = text(at)?;
            let parsed = f64::from_str(&t).ok().filter(|v| v.is_finite());
            if parsed.is_none() {
                let message = format!("“{t}” is no number");
                problems.push(Problem::refused(
                    format!("row {row}, {}", HEADER[at]),
                    message,
                ));
            }
            parsed
        };
        let (area_mm2, length_m) = (number(3), number(4));
        let color = match text(5).map(Colour::try_from).transpose() {
            Ok(color) => color,
            Err(e) => {
                problems.push(Problem::refused(format!("row {row}, color"), e.to_string()));
                None
            }
        };
        wires.push(WireDoc {
            id: text(0).unwrap_or_default(),
            from: text(1).unwrap_or_default(),
            to: text(2).unwrap_or_default(),
            area_mm2,
            awg: None,
            length_m,
            ohms: None,
            color,
            harness: text(6),
            capped: Vec::new(),
        });
    }
    if problems.is_empty() {
        Ok(wires)
    } else {
        Err(Refused(problems))
    }
}
