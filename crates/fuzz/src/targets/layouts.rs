//! Placements of diagrams as they lie in the database, put to drawings that they may be of.

use std::rc::Rc;
use std::sync::Arc;

use cimento_model::circuit::{Circuit, Drawing};
use cimento_parts::read_circuit;
use cimento_tracks::{Flow, Placement, Size};
use fastrand::Rng;
use serde_json::Value;

use super::{Good, Outcome, Target};
use crate::damage;

pub(super) struct Layouts {
    good: Rc<Good>,
    drawings: Vec<(Drawing, Flow, Value)>,
    at: usize,
}

impl Layouts {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        let made = |value: &Value| {
            let circuit: Arc<Circuit> =
                read_circuit(&value.to_string()).map_err(|e| e.to_string())?;
            let flow = cimento_bench::flow(&circuit).unwrap_or_default();
            let drawing = circuit.drawing();
            let placement = cimento_tracks::place(&drawing, &flow);
            let placement = serde_json::to_value(&placement).map_err(|e| e.to_string())?;
            Ok((drawing, flow, placement))
        };
        // A few are enough: all are of one kind.
        let drawings: Result<Vec<_>, String> = good.circuits.iter().take(4).map(made).collect();
        Ok(Self {
            drawings: drawings?,
            good,
            at: 0,
        })
    }
}

impl Target for Layouts {
    fn name(&self) -> &'static str {
        "layouts"
    }

    fn weight(&self) -> u32 {
        4
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        self.at = rng.usize(..self.drawings.len());
        let good = &self.drawings[rng.usize(..self.drawings.len())].2;
        match rng.u8(..8) {
            // What nothing is wrong with is drawn, so that drawing is looked at however little time there is.
            0 => self.drawings[self.at].2.to_string(),
            1 | 2 => damage::bytes(&good.to_string(), rng),
            _ => {
                let mut placement = good.clone();
                damage::document(&mut placement, &self.good.words, rng);
                placement.to_string()
            }
        }
    }

    fn take(&mut self, input: &str) -> Outcome {
        let (drawing, flow, _) = &self.drawings[self.at];
        let placement = serde_json::from_str::<Placement>(input).ok();
        let Some(placement) = placement.filter(|p| p.fits(drawing, flow)) else {
            return Outcome::Refused;
        };
        let size = Size {
            width: 905,
            height: 465,
            font: 14,
            least: 10,
        };
        let _ = cimento_tracks::draw(drawing, flow, &placement, size);
        Outcome::Taken
    }
}
