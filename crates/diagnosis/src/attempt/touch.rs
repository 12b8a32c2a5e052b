//! How a lead gets at the contact inside a connector, and what it leaves behind.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::actions::{Action, Seal};
use super::session::{Refusal, Session, bad};
use cimento_model::circuit::{Circuit, ConductorKind, TestPoint};
use cimento_model::units::awg_area_mm2;

/// The share of the way to a connector that piercing a wire before it saves, and what a probe that is
/// at hand saves over a pin, in minutes; common practice.
const PIERCING_SAVES: f64 = 0.5;
const FRONT_PROBE_SAVES_MINUTES: f64 = 0.2;
/// Terminals for wires up to this area are spread by a meter's own probe, in mm²; common practice.
const SMALL_MM2: f64 = 1.5;

/// How a lead touches what lies inside a connector.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Touch {
    /// A thin pin, worked in from behind.
    #[default]
    #[serde(rename = "pin")]
    BackProbe,
    /// The meter's own probe, pushed in from the front.
    #[serde(rename = "thick")]
    FrontProbe,
    /// A needle through the insulation of the wire beside it.
    Pierce,
}

impl Touch {
    pub(super) fn is_back_probe(&self) -> bool {
        *self == Self::BackProbe
    }

    /// Minutes of a reading whose way to one of its points is given.
    pub(super) fn way_minutes(self, circuit: &Circuit, point: &TestPoint) -> f64 {
        let inside = is_inside(circuit, point);
        match self {
            Self::Pierce if inside => point.reach_minutes * (1.0 - PIERCING_SAVES),
            Self::FrontProbe if inside => {
                (point.reach_minutes - FRONT_PROBE_SAVES_MINUTES).max(0.0)
            }
            _ => point.reach_minutes,
        }
    }
}

/// Whether a test point lies inside a connector.
fn is_inside(circuit: &Circuit, point: &TestPoint) -> bool {
    let connector = point.id.split_once('.').map_or("", |(id, _)| id);
    circuit.doc.connectors.contains_key(connector)
}

/// The wire that is pierced beside a point inside a connector; none where no wire comes out.
pub fn pierced<'c>(circuit: &'c Circuit, point: &TestPoint) -> Option<&'c str> {
    let wires = circuit.conductors.iter();
    let mut wires = wires.filter(|c| c.kind == ConductorKind::Wire);
    let here = wires.find(|c| c.a == point.node || c.b == point.node);
    here.filter(|_| is_inside(circuit, point))
        .map(|c| c.id.as_str())
}

/// Whether the meter's own probe is too thick for the cavity of a point.
pub fn is_too_thick(circuit: &Circuit, point: &TestPoint) -> bool {
    let wire = pierced(circuit, point);
    let wire = wire.and_then(|id| circuit.doc.wires.iter().find(|w| w.id == id));
    let area = wire.and_then(|w| w.area_mm2.or_else(|| w.awg.map(awg_area_mm2)));
    is_inside(circuit, point) && area.is_none_or(|mm2| mm2 <= SMALL_MM2)
}

/// The wires that leads pierce when they go through the insulation.
fn wires_pierced<'c>(
    circuit: &'c Circuit,
    leads: [Option<&str>; 2],
) -> impl Iterator<Item = &'c str> + use<'c> {
    let at = leads.map(|id| id.and_then(|id| pierced(circuit, circuit.test_point(id)?)));
    at.into_iter().flatten()
}

impl Session {
    /// Whether the leads can be put on their points in a way.
    pub(super) fn may_touch(&self, touch: Touch, leads: [Option<&str>; 2]) -> Result<(), Refusal> {
        if touch != Touch::Pierce {
            return Ok(());
        }
        match wires_pierced(&self.lesson.circuit, leads).next() {
            Some(_) => Ok(()),
            None => bad("there is no wire to pierce beside these points".to_owned()),
        }
    }

    /// The wires that have been pierced and not sealed yet.
    pub fn pierced(&self) -> Vec<String> {
        let mut out: Vec<String> = Vec::new();
        for step in self.steps() {
            match &step.action {
                Action::TakeReading(taken) if taken.touch == Touch::Pierce => {
                    for wire in wires_pierced(&self.lesson.circuit, taken.leads()) {
                        if !out.iter().any(|w| w == wire) {
                            out.push(wire.to_owned());
                        }
                    }
                }
                Action::Seal(Seal { wire }) => out.retain(|w| w != wire),
                _ => {}
            }
        }
        out
    }
}
