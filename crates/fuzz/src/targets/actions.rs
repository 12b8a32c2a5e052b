//! Actions at benches, one after another.

use std::rc::Rc;
use std::sync::Arc;

use cimento_diagnosis::attempt::{Action, Refusal, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::CircuitDoc;
use cimento_model::faults::read_short_form;
use fastrand::Rng;

use super::{Good, Outcome, Target};
use crate::damage;
use crate::sequence::AtHand;

/// After so many steps an attempt begins anew.
const LONGEST: usize = 60;

/// Machines and what is wrong with them.
const MACHINES: [(&str, &str); 6] = [
    ("baggage-tug-starting", "W8:open"),
    ("baggage-tug-charging", "W4:open"),
    ("sweeper-lamps", "W5:high_resistance=8"),
    ("belt-loader-module", "W5:open"),
    ("belt-loader-ignition", "W4:open"),
    ("fire-pump-starting", "W3:open"),
];

pub(super) struct Actions {
    good: Rc<Good>,
    lessons: Vec<(Arc<Lesson>, AtHand)>,
    session: Session,
    at: usize,
}

impl Actions {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        let mut lessons = Vec::new();
        for (circuit, fault) in MACHINES {
            let file = super::demo().join(format!("circuits/{circuit}.json"));
            let text = std::fs::read_to_string(&file).map_err(|e| format!("{circuit}: {e}"))?;
            let doc: CircuitDoc = serde_json::from_str(&text).map_err(|e| e.to_string())?;
            let fault = read_short_form(fault).map_err(|e| e.to_string())?;
            let doc = LessonDoc::of(circuit, doc, vec![fault]);
            let lesson = Lesson::new(doc).map_err(|e| format!("{circuit}: {e}"))?;
            let at_hand = AtHand::of(&lesson);
            lessons.push((lesson, at_hand));
        }
        Ok(Self {
            session: Session::start(&lessons[0].0),
            lessons,
            good,
            at: 0,
        })
    }
}

impl Target for Actions {
    fn name(&self) -> &'static str {
        "actions"
    }

    fn weight(&self) -> u32 {
        4
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        if self.session.steps().len() >= LONGEST || self.session.is_handed_in() {
            self.at = rng.usize(..self.lessons.len());
            self.session = Session::start(&self.lessons[self.at].0);
        }
        let at_hand = &self.lessons[self.at].1;
        match rng.u8(..10) {
            0 => self.good.arbitrary.named("Action", rng).to_string(),
            1 => {
                let mut action = at_hand.action(self.session.steps().len(), rng);
                damage::document(&mut action, &self.good.words, rng);
                action.to_string()
            }
            _ => at_hand.action(self.session.steps().len(), rng).to_string(),
        }
    }

    fn take(&mut self, input: &str) -> Outcome {
        let Ok(action) = serde_json::from_str::<Action>(input) else {
            return Outcome::Refused;
        };
        let before = self.session.steps().len();
        let done = self.session.act(action).map(|_| ());
        let after = self.session.steps().len();
        match done {
            Ok(()) => match serde_json::to_string(&self.session.changes(before)) {
                Ok(_) => Outcome::Taken,
                Err(e) => Outcome::Broken(format!("the answer cannot be written: {e}")),
            },
            Err(Refusal::Bench(e)) => Outcome::Broken(format!("the machine failed: {e}")),
            Err(_) if after != before => {
                Outcome::Broken("it was refused, and stands on record".to_owned())
            }
            Err(_) => Outcome::Refused,
        }
    }
}
