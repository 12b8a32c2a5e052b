//! Why a row reads what it reads: a claim about the two machines, which can be checked, and its words.

use cimento_model::units::{Quantity, Unit};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is claimed as the reason of a row; places and parts by their ids, volts and amperes as each machine has them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Claim {
    /// It reads the same, and current passes here in both machines.
    AsHealthy,
    /// It reads the same, and no current passes here in either machine.
    NothingFlows,
    /// It reads the same, for the current is gone that would show a drop.
    NothingFlowsNow,
    /// A part lets go and pulls in again, so the reading wanders.
    Chatters { part: String },
    /// Volts are lost across a place that a healthy circuit keeps.
    Lost {
        place: String,
        volts: f64,
        healthy_volts: f64,
        /// Absent where it is no point that is read.
        side: Option<Side>,
        blown: bool,
    },
    /// A place, often a load, has other volts across it than in a healthy circuit.
    Across {
        place: String,
        volts: f64,
        healthy_volts: f64,
        side: Side,
    },
    /// The battery stands higher or lower, for it gives or takes another current; what it gives counts upward.
    Battery {
        part: String,
        volts: f64,
        healthy_volts: f64,
        amps: f64,
        healthy_amps: f64,
    },
    /// An armature on the way stands otherwise than in a healthy circuit.
    Armature { part: String, pulled_in: bool },
    /// Current runs the other way through a load, and holds the point up.
    FedBack { load: String, amps: f64 },
    /// So many volts are dropped along a place, between the leads.
    Dropped {
        place: String,
        volts: f64,
        healthy_volts: f64,
    },
    /// Another current flows through a place.
    Flows {
        place: String,
        amps: f64,
        healthy_amps: f64,
        /// An armature on its way that stands otherwise, a fuse that has gone, volts that are lost.
        #[schema(no_recursion)]
        because: Option<Box<Claim>>,
    },
    /// A fuse on the way has blown.
    Blown { fuse: String },
    /// A module does not answer the scan tool.
    NoAnswer { part: String },
    /// A module reports what reaches its pins.
    Reported,
    /// It swings by another amount.
    Swings { by: f64, healthy_by: f64 },
    /// A place by itself measures otherwise.
    ByItself { place: String },
    /// A place by itself measures the same.
    SameByItself,
    /// It is joined to a point of a current path by conductors that lose nothing, and stands as that does.
    StandsWith {
        point: String,
        #[schema(no_recursion)]
        because: Box<Claim>,
    },
    /// What is at the end of its wire puts other volts on it.
    Driven {
        part: String,
        volts: f64,
        healthy_volts: f64,
    },
    /// It stands higher or lower, and no single place on the way accounts for it.
    Differs { volts: f64 },
    /// What an instrument shows differs, and its reading says it all.
    Shows,
}

/// Where on the way of the current something lies, seen from the red lead.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Side {
    /// Between the supply and the point.
    Before,
    /// Between the point and battery negative.
    After,
}

impl Side {
    fn text(self) -> &'static str {
        match self {
            Self::Before => "before this point",
            Self::After => "between this point and battery negative",
        }
    }
}

fn volts(v: f64) -> String {
    Quantity::Number(v.abs()).text(Unit::Volt)
}

fn amps(a: f64) -> String {
    Quantity::Number(a.abs()).text(Unit::Ampere)
}

/// "gives 12.0 A", "takes 8.00 A".
fn gives(a: f64) -> String {
    let does = if a < 0.0 { "takes" } else { "gives" };
    format!("{does} {}", amps(a))
}

impl Claim {
    /// The claim in one line.
    pub fn text(&self) -> String {
        match self {
            Self::AsHealthy => {
                "as healthy: what is wrong changes nothing here in this state".to_owned()
            }
            Self::NothingFlows => {
                "no current passes here in this state, so nothing in series shows".to_owned()
            }
            Self::NothingFlowsNow => {
                "no current, so no drop: it reads as if all were well".to_owned()
            }
            Self::Chatters { part } => {
                format!("{part} lets go and pulls in again, so the reading wanders")
            }
            Self::Lost {
                place,
                volts: lost,
                side,
                blown,
                ..
            } => {
                let blown = if *blown { " (blown)" } else { "" };
                let side = side.map_or_else(String::new, |side| format!(", {}", side.text()));
                format!("{} is lost across {place}{blown}{side}", volts(*lost))
            }
            Self::Across {
                place,
                volts: across,
                healthy_volts,
                side,
            } => format!(
                "{place} has {} across it instead of {}, {}",
                volts(*across),
                volts(*healthy_volts),
                side.text()
            ),
            Self::Battery {
                part,
                volts: stands,
                healthy_volts,
                amps,
                healthy_amps,
            } => format!(
                "{part} {} and stands at {}; in a healthy circuit it {} and stands at {}",
                gives(*amps),
                volts(*stands),
                gives(*healthy_amps),
                volts(*healthy_volts)
            ),
            Self::Armature { part, pulled_in } => match pulled_in {
                true => format!("{part} has pulled in, which it should not"),
                false => format!("{part} does not pull in"),
            },
            Self::FedBack { load, amps: back } => format!(
                "{} run backwards through {load} and hold this point up",
                amps(*back)
            ),
            Self::Dropped {
                place,
                volts: is,
                healthy_volts,
            } => format!(
                "{} is dropped along {place} instead of {}",
                volts(*is),
                volts(*healthy_volts)
            ),
            Self::Flows {
                place,
                amps: is,
                healthy_amps,
                because,
            } => match because {
                Some(why) if is.abs() < healthy_amps.abs() => {
                    format!("{}, so less current flows", why.text())
                }
                Some(why) => format!("{}, so more current flows", why.text()),
                None => format!(
                    "{} flows through {place} instead of {}",
                    amps(*is),
                    amps(*healthy_amps)
                ),
            },
            Self::Blown { fuse } => format!("{fuse} has blown"),
            Self::NoAnswer { part } => format!("{part} does not answer the scan tool"),
            Self::Reported => "the module reports what reaches its pins".to_owned(),
            Self::Swings { by, healthy_by } => format!(
                "it swings by {} instead of {}",
                volts(*by),
                volts(*healthy_by)
            ),
            Self::ByItself { place } => format!("{place} by itself is not what it should be"),
            Self::SameByItself => {
                "as healthy: the fault is not in it, or does not show to an ohmmeter".to_owned()
            }
            Self::StandsWith { point, because } => {
                format!("it stands with {point}: {}", because.text())
            }
            Self::Driven {
                part,
                volts: is,
                healthy_volts,
            } => format!(
                "{part} puts {} here instead of {}",
                volts(*is),
                volts(*healthy_volts)
            ),
            Self::Differs { volts: by } => {
                let way = if *by > 0.0 { "higher" } else { "lower" };
                format!("{} {way} than in a healthy circuit", volts(*by))
            }
            Self::Shows => "what is wrong changes what the instrument sees here".to_owned(),
        }
    }
}
