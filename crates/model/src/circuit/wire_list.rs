//! Wire list: CSV, one row a wire, in and out.

use std::str::FromStr;

use super::document::{LeadKind, WireDoc};
use super::problem::{Problem, Refused};
use crate::text::{as_written, inert};
use crate::units::Colour;

const HEADER: [&str; 7] = [
    "id", "from", "to", "area_mm2", "length_m", "color", "harness",
];
/// Columns that follow where a wire has something for them.
const MORE: [&str; 4] = ["awg", "ohms", "capped", "lead"];

/// The wires as CSV with a header. A gauge, a given resistance, ends that hang free and a kind of lead have columns of
/// their own, which are there only where a wire needs them.
pub fn write_wire_list(wires: &[WireDoc]) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    let number = |n: Option<f64>| n.map(|n| n.to_string()).unwrap_or_default();
    let more = wires.iter().any(|w| {
        w.awg.is_some() || w.ohms.is_some() || !w.capped.is_empty() || w.ignition_lead.is_some()
    });
    let more = if more { &MORE[..] } else { &[] };
    // Writing to memory does not fail.
    let _ = out.write_record(HEADER.iter().chain(more));
    for w in wires {
        let colour = w.color.clone().map(String::from).unwrap_or_default();
        let row = [
            w.id.clone(),
            w.from.clone(),
            w.to.clone(),
            number(w.area_mm2),
            number(w.length_m),
            colour,
            inert(w.harness.as_deref().unwrap_or_default()),
        ];
        let rest = [
            w.awg.map(|a| a.to_string()).unwrap_or_default(),
            number(w.ohms),
            w.capped.join(" "),
            w.ignition_lead
                .map(|l| l.name().to_owned())
                .unwrap_or_default(),
        ];
        let _ = out.write_record(row.iter().chain(rest.iter().take(more.len())));
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
    let names: Vec<&str> = header.iter().collect();
    let known = names.iter().skip(HEADER.len()).all(|n| MORE.contains(n));
    if !names.starts_with(&HEADER) || !known {
        let (usual, more) = (HEADER.join(","), MORE.join(","));
        let message = format!("expected the columns {usual}, and after them any of {more}");
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
                    format!("row {row}, {}", names[at]),
                    message,
                ));
            }
            parsed
        };
        let column = |name: &str| names.iter().position(|n| *n == name).unwrap_or(usize::MAX);
        let (area_mm2, length_m) = (number(3), number(4));
        let (awg, ohms) = (number(column("awg")), number(column("ohms")));
        let capped = text(column("capped")).unwrap_or_default();
        let lead = text(column("lead")).and_then(|name| {
            let known = LeadKind::ALL.into_iter().find(|l| l.name() == name);
            if known.is_none() {
                let names = LeadKind::ALL.map(LeadKind::name).join(", ");
                problems.push(Problem::refused(
                    format!("row {row}, lead"),
                    format!("“{name}” is no kind of lead: expected {names}"),
                ));
            }
            known
        });
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
            awg: awg.map(|a| a as i32),
            length_m,
            ignition_lead: lead,
            ohms,
            color,
            harness: text(6).map(|cell| as_written(&cell).to_owned()),
            capped: capped.split_whitespace().map(str::to_owned).collect(),
        });
    }
    if problems.is_empty() {
        Ok(wires)
    } else {
        Err(Refused(problems))
    }
}
