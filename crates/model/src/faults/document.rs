//! Faults as documents and in the short form of a command line.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    CONDUCTOR_MODES, Condition, ConductorMode, Fault, LeadsTo, Mode, Target, default_metal,
};
use crate::circuit::{Circuit, Place, Problem, SeverityInfo, SeverityUnit};

/// A fault as a document.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FaultDoc {
    /// `W8`, `C12.4`, `G1`, `K3`.
    pub place: String,
    /// `open`, `high_resistance`, `short_to_ground`, … or a part's own.
    pub mode: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ohms: Option<f64>,
    /// The metal a short or leak goes to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub metal: Option<String>,
    /// The other wire of a short between two.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub other: Option<String>,
    /// Share of the strands that is cut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fraction: Option<f64>,
    /// Where along a wire, 0 to 1 from its `from` end; the middle when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<f64>,
    /// `always`, `hot`, `moved`, `wet` or `vibrating`; always when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub when: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cause: Option<String>,
}

/// Reads `W8:open` or `C12.4:high_resistance=2`. The number is ohms, or the share for
/// `strands_cut`.
///
/// # Errors
/// A sentence that says what was expected.
pub fn read_short_form(text: &str) -> Result<FaultDoc, Problem> {
    let bad = |message: String| Problem::refused("fault", message);
    let (place, rest) = text.split_once(':').ok_or_else(|| {
        bad(format!(
            "“{text}” is no fault: expected PLACE:mode or PLACE:mode=ohms, such as W8:open"
        ))
    })?;
    let mut doc = FaultDoc {
        place: place.to_owned(),
        mode: rest.to_owned(),
        ..FaultDoc::default()
    };
    if let Some((mode, number)) = rest.split_once('=') {
        let value: f64 = number
            .parse()
            .map_err(|_| bad(format!("“{number}” in {text} is no number")))?;
        mode.clone_into(&mut doc.mode);
        if counts_a_share(mode) {
            doc.fraction = Some(value);
        } else {
            doc.ohms = Some(value);
        }
    }
    Ok(doc)
}

/// Whether a mode's severity is a share of the wire's area and not ohms.
fn counts_a_share(mode: &str) -> bool {
    let how = CONDUCTOR_MODES.iter().find(|m| m.name == mode);
    how.is_some_and(|m| m.unit == SeverityUnit::Share)
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
    let given = if counts_a_share(&doc.mode) {
        doc.fraction
    } else {
        doc.ohms
    };
    let severity = match (spec.severity, given) {
        (None, None) => None,
        (None, Some(_)) => {
            return bad(
                "ohms",
                format!("{} has no severity: leave ohms out", doc.mode),
            );
        }
        (Some(range), value) => {
            let v = value.unwrap_or(range.usual);
            let SeverityInfo { least, most, .. } = range;
            if !(v >= least && v <= most) {
                return bad(
                    "ohms",
                    format!("{v} is out of range: expected {least} to {most}"),
                );
            }
            Some(v)
        }
    };
    let at = doc.at.unwrap_or(0.5);
    if !(0.0..=1.0).contains(&at) {
        return bad(
            "at",
            format!("{at} is out of range: expected 0 to 1 along the wire"),
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
    let is_lead = circuit.conductors[conductor].lead.is_some();
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
    let fraction = mode.severity().filter(|_| counts_a_share(mode.name()));
    FaultDoc {
        place: circuit.place_id(fault.place).to_owned(),
        mode: fault.mode.name().to_owned(),
        ohms: match fraction {
            Some(_) => None,
            None => mode.severity(),
        },
        metal,
        other,
        fraction,
        at: Some(fault.at),
        when: Some(fault.when.name().to_owned()),
        cause: fault.cause.clone(),
    }
}
