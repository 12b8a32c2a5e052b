//! Faults as documents and in the short form of a command line.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Condition, ConductorMode, Fault, LeadsTo, Mode, Target, default_metal};
use crate::circuit::{Circuit, Place, Problem, SeverityInfo, SeverityUnit};
use crate::text::figure;

/// A fault as a document.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(try_from = "Written")]
pub struct FaultDoc {
    /// `W8`, `C12.4`, `G1`, `K3`.
    pub place: String,
    /// `open`, `high_resistance`, `short_to_ground`, … or a part's own.
    pub mode: String,
    /// How bad it is; as usual when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub severity: Option<Amount>,
    /// The metal a short or leak goes to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub metal: Option<String>,
    /// The other wire of a short between two.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub other: Option<String>,
    /// Where along a wire, 0 to 1 from its `from` end; the middle when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<f64>,
    /// `always`, `hot`, `moved`, `wet` or `vibrating`; always when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub when: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cause: Option<String>,
}

/// A severity: a number and what it counts.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Amount {
    pub value: f64,
    /// The unit of the fault's mode, which is the one meant when it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unit: Option<SeverityUnit>,
}

impl From<f64> for Amount {
    fn from(value: f64) -> Self {
        Self { value, unit: None }
    }
}

/// A fault as it may be written: with `severity`, or as it was before there was one, with `ohms` (of
/// whatever unit) or `fraction`.
#[derive(Deserialize, JsonSchema)]
#[schemars(rename = "FaultDoc")]
#[serde(deny_unknown_fields)]
struct Written {
    place: String,
    mode: String,
    severity: Option<Amount>,
    ohms: Option<f64>,
    fraction: Option<f64>,
    metal: Option<String>,
    other: Option<String>,
    at: Option<f64>,
    when: Option<String>,
    cause: Option<String>,
}

impl TryFrom<Written> for FaultDoc {
    type Error = String;

    fn try_from(written: Written) -> Result<Self, String> {
        let old = written.ohms.into_iter().chain(written.fraction);
        let mut given = written.severity.into_iter().chain(old.map(Amount::from));
        let severity = given.next();
        if given.next().is_some() {
            return Err(format!(
                "the fault at {} has two severities: write `severity` alone",
                written.place
            ));
        }
        Ok(Self {
            place: written.place,
            mode: written.mode,
            severity,
            metal: written.metal,
            other: written.other,
            at: written.at,
            when: written.when,
            cause: written.cause,
        })
    }
}

/// Reads `W8:open`, `C12.4:high_resistance=2` or `W8:short_to_wire=0.05,other=W9,at=0.3,metal=frame,when=hot`; the
/// first number is in the unit of the mode.
///
/// # Errors
/// A sentence that says what was expected.
pub fn read_short_form(text: &str) -> Result<FaultDoc, Problem> {
    let bad = |message: String| Problem::refused("fault", message);
    let (place, rest) = text.split_once(':').ok_or_else(|| {
        bad(format!(
            "“{text}” is no fault: expected PLACE:mode or PLACE:mode=severity, such as W8:open"
        ))
    })?;
    let number = |word: &str| -> Result<f64, Problem> {
        let sound = word.parse::<f64>().ok().filter(|v| v.is_finite());
        sound.ok_or_else(|| bad(format!("“{word}” in {text} is no number")))
    };
    let mut words = rest.split(',');
    let mode = words.next().unwrap_or_default();
    let mut doc = FaultDoc {
        place: place.to_owned(),
        mode: mode.to_owned(),
        ..FaultDoc::default()
    };
    if let Some((mode, severity)) = mode.split_once('=') {
        mode.clone_into(&mut doc.mode);
        doc.severity = Some(number(severity)?.into());
    }
    for word in words {
        let said = || Some(word.split_once('=')?.1.to_owned());
        match word.split_once('=').map(|(name, _)| name) {
            Some("other") => doc.other = said(),
            Some("metal") => doc.metal = said(),
            Some("when") => doc.when = said(),
            Some("at") => doc.at = said().map(|at| number(&at)).transpose()?,
            _ => {
                return Err(bad(format!(
                    "“{word}” in {text} is not known: expected other=, at=, metal= or when="
                )));
            }
        }
    }
    Ok(doc)
}

pub(super) fn read(circuit: &Circuit, doc: &FaultDoc, path: &str) -> Result<Fault, Problem> {
    let bad =
        |field: &str, message: String| Err(Problem::refused(format!("{path}.{field}"), message));
    let Some(place) = circuit.place(&doc.place) else {
        return bad(
            "place",
            format!(
                "there is no place {}: expected a wire, cavity, splice, ground or part",
                doc.place
            ),
        );
    };
    let specs = circuit.modes(place);
    let Some(spec) = specs.iter().find(|m| m.name == doc.mode) else {
        let names: Vec<_> = specs.iter().map(|m| m.name).collect();
        return bad(
            "mode",
            format!(
                "{} cannot fail as “{}”: expected {}",
                doc.place,
                doc.mode,
                names.join(", ")
            ),
        );
    };
    let severity = match (spec.severity, doc.severity) {
        (None, None) => None,
        (None, Some(_)) => {
            return bad(
                "severity",
                format!("{} has no severity: leave it out", doc.mode),
            );
        }
        (Some(range), given) => {
            let SeverityInfo {
                least,
                most,
                usual,
                unit,
            } = range;
            if let Some(Amount { unit: Some(u), .. }) = given
                && u != unit
            {
                return bad(
                    "severity.unit",
                    format!("expected {unit}, which is what {} is counted in", doc.mode),
                );
            }
            let v = given.map_or(usual, |given| given.value);
            if !(v >= least && v <= most) {
                return bad(
                    "severity",
                    format!(
                        "{} is out of range: expected {} to {}",
                        figure(v),
                        figure(least),
                        figure(most)
                    ),
                );
            }
            Some(v)
        }
    };
    let at = doc.at.unwrap_or(0.5);
    if !(0.0..=1.0).contains(&at) {
        return bad(
            "at",
            format!(
                "{} is out of range: expected 0 to 1 along the wire",
                figure(at)
            ),
        );
    }
    let when = match doc.when.as_deref() {
        None => spec
            .conductor
            .and_then(|how| how.shows_only)
            .unwrap_or_default(),
        Some(text) => match Condition::parse(text) {
            Some(when) => when,
            None => {
                return bad(
                    "when",
                    format!(
                        "“{text}” is no condition: expected always, hot, moved, wet or vibrating"
                    ),
                );
            }
        },
    };
    let target = match (place, spec.conductor) {
        (Place::Conductor(n), Some(how)) => target(circuit, doc, (n, how), path)?,
        _ => Target::Nothing,
    };
    let mode = Mode::new(spec, severity, target);
    Ok(Fault {
        place,
        mode,
        at,
        when,
        cause: doc.cause.clone(),
    })
}

/// What lies at the other end of a conductor's fault, as the document says.
fn target(
    circuit: &Circuit,
    doc: &FaultDoc,
    (conductor, how): (usize, &ConductorMode),
    path: &str,
) -> Result<Target, Problem> {
    match how.leads_to {
        LeadsTo::Nowhere | LeadsTo::Power => Ok(Target::Nothing),
        LeadsTo::Conductor | LeadsTo::Crossed => {
            other(circuit, doc, (conductor, how), path).map(Target::Conductor)
        }
        LeadsTo::Metal => {
            let found = match &doc.metal {
                Some(name) => circuit.node(&format!("metal:{name}")),
                None => default_metal(circuit, conductor),
            };
            found.map(Target::Metal).ok_or_else(|| {
                Problem::refused(
                    format!("{path}.metal"),
                    "there is no such metal in the circuit: expected one with a ground point on it",
                )
            })
        }
    }
}

/// The other conductor that a fault needs. Cavities are crossed with one of their own connector.
fn other(
    circuit: &Circuit,
    doc: &FaultDoc,
    (conductor, how): (usize, &ConductorMode),
    path: &str,
) -> Result<usize, Problem> {
    let found = doc.other.as_deref().and_then(|o| circuit.place(o));
    let crossed = how.leads_to == LeadsTo::Crossed;
    let is_lead = circuit.conductors[conductor].ignition_lead.is_some();
    match found {
        Some(Place::Conductor(other))
            if other != conductor && (!crossed || circuit.can_cross(conductor, other)) =>
        {
            Ok(other)
        }
        _ => Err(Problem::refused(
            format!("{path}.other"),
            if crossed && is_lead {
                "expected another lead that leads to a part of the same kind"
            } else if crossed {
                "expected another cavity of the same connector"
            } else {
                "expected the id of another wire, cavity or splice"
            },
        )),
    }
}

pub(super) fn write(circuit: &Circuit, fault: &Fault) -> FaultDoc {
    let metal_name =
        |node: usize| Some(circuit.nodes[node].trim_start_matches("metal:").to_owned());
    let mode = &fault.mode;
    let metal = mode.metal().and_then(metal_name);
    let other = mode.other().map(|n| circuit.conductors[n].id.clone());
    let unit = mode.spec.severity.map(|range| range.unit);
    FaultDoc {
        place: circuit.place_id(fault.place).to_owned(),
        mode: fault.mode.name().to_owned(),
        severity: mode.severity().map(|value| Amount { value, unit }),
        metal,
        other,
        at: Some(fault.at),
        when: Some(fault.when.name().to_owned()),
        cause: fault.cause.clone(),
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    fn doc(json: &str) -> Result<FaultDoc, serde_json::Error> {
        serde_json::from_str(json)
    }

    /// What was written before there were units is read as before, and written anew with one.
    #[test]
    fn older_spellings_of_a_severity_are_read() {
        for (old, value) in [(r#""ohms": 2"#, 2.0), (r#""fraction": 0.4"#, 0.4)] {
            let read = doc(&format!(r#"{{"place": "W8", "mode": "any", {old}}}"#)).unwrap();
            assert_eq!(read.severity, Some(value.into()));
            let written = serde_json::to_value(&read).unwrap();
            assert_eq!(written["severity"]["value"], value);
        }
        let unit =
            doc(r#"{"place": "W8", "mode": "burnt", "severity": {"value": 3, "unit": "mm"}}"#);
        let unit = unit.unwrap().severity.unwrap().unit;
        assert_eq!(unit, Some(SeverityUnit::Millimetre));
    }

    #[test]
    fn two_severities_are_one_too_many() {
        let both = r#"{"place": "W8", "mode": "any", "severity": {"value": 3}, "ohms": 2}"#;
        let error = doc(both).unwrap_err().to_string();
        assert!(error.contains("W8 has two severities"), "{error}");
        assert!(doc(r#"{"place": "W8", "mode": "any", "farads": 2}"#).is_err());
    }
}
