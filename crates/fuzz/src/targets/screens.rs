//! Screens of the oscilloscope as CSV.

use std::rc::Rc;

use cimento_bench::Bench;
use cimento_bench::instruments::{Acquire, Attenuation, Capture, Probe, Scope, capture};
use cimento_parts::read_circuit;
use fastrand::Rng;

use super::wire_lists::csv;
use super::{Good, Outcome, Target};

pub(super) struct Screens {
    good: Rc<Good>,
    screen: String,
}

impl Screens {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        let circuit = read_circuit(&good.circuits[0].to_string()).map_err(|e| e.to_string())?;
        let bench = Bench::new(&circuit, &[]).map_err(|e| e.to_string())?;
        let scope = Scope {
            channels: vec![Probe::Leads {
                red: "BAT.+".to_owned(),
                black: "BAT.-".to_owned(),
            }],
            sweep_s: 0.01,
            level: None,
            falling: false,
            attenuation: Attenuation::Ten,
            acquire: Acquire::Peak,
        };
        let screen = capture(&bench, &scope).map_err(|e| e.to_string())?.csv();
        Ok(Self { good, screen })
    }
}

impl Target for Screens {
    fn name(&self) -> &'static str {
        "screens"
    }

    fn weight(&self) -> u32 {
        20
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        csv(&self.screen, &self.good.words, rng)
    }

    fn take(&mut self, input: &str) -> Outcome {
        let Ok(screen) = Capture::from_csv(input) else {
            return Outcome::Refused;
        };
        match Capture::from_csv(&screen.csv()) {
            Ok(_) => Outcome::Taken,
            Err(e) => Outcome::Broken(format!("what was written is not read: {e}")),
        }
    }
}
