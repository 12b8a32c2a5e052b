//! Which cylinders fire, and what is heard of it.

use std::collections::{BTreeMap, HashMap};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::ops::ControlFlow;
use std::rc::Rc;
use std::sync::Mutex;

use super::state::{ENGINE, Engine};
use super::time::{COARSE, Window};
use super::{Bench, BenchError, settle};
use crate::circuit::Place;
use crate::parts::{Notice, NoticeKind};

/// Below this cranking speed an engine does not fire, in revolutions per minute; common practice.
pub(super) const FIRING_RPM: f64 = 60.0;
/// The least that lights a mixture, in joules; common practice.
pub(super) const LIGHTS_J: f64 = 2e-3;
/// A firing is looked at from this share of the way from the one before, but no more degrees, to so many
/// seconds after it comes, late or not.
const LEAD: f64 = 0.9;
const LONGEST_LEAD_DEG: f64 = 170.0;
const AFTER_S: f64 = 0.002;

/// An engine that fires so many degrees late pulls weakly; common practice.
const WEAK_DEG: f64 = 5.0;

/// Which plugs light, by a hash of everything that it hangs on: a machine is brought into the same few
/// states again and again. It only saves time; what it holds could be worked out anew.
static LIT: Mutex<Option<HashMap<u64, Vec<usize>>>> = Mutex::new(None);
/// When it holds this many it starts over.
const MOST_LIT: usize = 20_000;

/// Which plugs lit in the states that a machine has been through, by those states.
#[derive(Debug, Clone, Default)]
pub(super) struct Fired {
    seen: BTreeMap<u64, Vec<usize>>,
    /// What both of two machines did that this one lies between.
    expected: Rc<BTreeMap<u64, Vec<usize>>>,
    /// Every plug is taken to light: nobody looks.
    unseen: bool,
}

impl Bench<'_> {
    /// Takes the machine to fire wherever two others do so alike in the same state and with the same
    /// levels: their faults are milder and worse than its own, and following a spark in time is slow.
    pub(crate) fn lies_between(&mut self, a: &Bench<'_>, b: &Bench<'_>) {
        let same = |(key, lit): &(&u64, &Vec<usize>)| b.fired.seen.get(key) == Some(lit);
        let alike = a.fired.seen.iter().filter(same);
        let alike = alike.map(|(key, lit)| (*key, lit.clone())).collect();
        self.fired.expected = Rc::new(alike);
    }

    /// From now on every plug is taken to light, or each is looked at again.
    pub(super) fn take_to_fire(&mut self, unseen: bool) {
        self.fired.unseen = unseen;
    }

    /// The plugs whose sparks light a mixture, by the position of the part.
    fn lit_plugs(&mut self) -> Result<Vec<usize>, BenchError> {
        if self.fired.unseen {
            return Ok(self.plugs());
        }
        let stands = self.parts.iter().map(|p| (p.level, p.speed > 0.0));
        let stands: Vec<_> = stands.collect();
        let key = hash(&(format!("{:?}", self.state), stands, self.faults.len()));
        let lit = match self.fired.expected.get(&key) {
            Some(lit) => lit.clone(),
            None => self.lit_by_sparks()?,
        };
        self.fired.seen.insert(key, lit.clone());
        Ok(lit)
    }

    fn lit_by_sparks(&self) -> Result<Vec<usize>, BenchError> {
        let active = settle::active(self.circuit, &self.faults, &self.state);
        let all = format!("{active:?}{:?}{:?}", self.state, self.parts);
        let key = hash(&(self.circuit.fingerprint, all));
        if let Ok(lit) = LIT.lock()
            && let Some(known) = lit.as_ref().and_then(|l| l.get(&key))
        {
            return Ok(known.clone());
        }
        let plugs = self.lighting()?;
        if let Ok(mut lit) = LIT.lock() {
            let lit = lit.get_or_insert_default();
            if lit.len() >= MOST_LIT {
                lit.clear();
            }
            lit.insert(key, plugs.clone());
        }
        Ok(plugs)
    }

    /// Sees which cylinders fire. An engine that runs with none stops.
    pub(super) fn fire(&mut self) -> Result<(), BenchError> {
        if !self.circuit.sparks() {
            return Ok(());
        }
        let lit = if self.rpm() >= FIRING_RPM && self.is_fuelled() {
            self.lit_plugs()?
        } else {
            Vec::new()
        };
        for (n, part) in self.circuit.parts.iter().enumerate() {
            if part.kind.sparks() {
                let lights = lit.contains(&n);
                let fitted = part.kind.is_in_cylinder(part, &self.state);
                let level = u64::from(lights && fitted);
                self.parts[n].level = level;
                for point in &mut self.settled.points {
                    point.parts[n].level = level;
                }
            }
        }
        if self.state.engine == Engine::Running && self.firing().0 == 0 {
            self.state.set_control(ENGINE, "stopped".to_owned());
            self.settle()?;
            self.died = true;
        }
        let cranked = self.state.engine == Engine::Stopped && self.rpm() >= FIRING_RPM;
        if cranked && self.firing().0 == 0 && !self.fired.unseen {
            self.coughs = self.fires_as_the_key_is_let_go()?;
        }
        Ok(())
    }

    /// Whether it fires on the last turns after the starter has let the battery go.
    fn fires_as_the_key_is_let_go(&self) -> Result<bool, BenchError> {
        let drops_out = self.circuit.parts.iter().any(|p| p.kind.drops_out());
        let controls = self.circuit.controls();
        let key = controls.iter().find(|c| c.name == "key");
        let before = key.and_then(|key| {
            let at = key.positions.iter().position(|p| *p == self.state.key)?;
            key.positions.get(at.checked_sub(1)?)
        });
        let (true, Some(before)) = (drops_out, before) else {
            return Ok(false);
        };
        let mut after = self.clone();
        after.state.key.clone_from(before);
        after.state.engine = Engine::Running;
        after.state.engine_rpm = self.rpm();
        let settled = after.settled_with(&|_| ())?;
        if let Some(point) = settled.points.last() {
            after.parts.clone_from(&point.parts);
        }
        after.settled = settled;
        Ok(after.is_fuelled() && !after.lit_by_sparks()?.is_empty())
    }

    /// Whether the engine gets fuel; on a machine whose injectors are no part of the circuit it does.
    fn is_fuelled(&self) -> bool {
        let parts = 0..self.circuit.parts.len();
        let kind = |n: usize| self.circuit.parts[n].kind;
        let told = parts.filter_map(|n| self.look(n, |look| kind(n).fuels(look)).flatten());
        told.reduce(|a, b| a || b).unwrap_or(true)
    }

    /// How many cylinders fire, of how many.
    pub(crate) fn firing(&self) -> (usize, usize) {
        let plugs = self.circuit.parts.iter().zip(&self.parts);
        let mut plugs = plugs.filter(|(p, _)| p.kind.sparks()).peekable();
        let all = plugs.clone().count();
        (plugs.by_ref().filter(|(_, s)| s.level == 1).count(), all)
    }

    /// The plugs whose sparks light a mixture: each firing is looked at for as long as it takes to tell.
    fn lighting(&self) -> Result<Vec<usize>, BenchError> {
        let plugs = self.plugs();
        let rpm = self.rpm();
        let mut lit = Vec::new();
        // Two cylinders may fire half a turn apart.
        let firings = if plugs.len() == 2 { 4 } else { plugs.len() };
        let every = 720.0 / firings.max(1) as f64;
        let lead = (LEAD * every).min(LONGEST_LEAD_DEG);
        for firing in 0..firings {
            let window = Window {
                from_deg: every * firing as f64 - lead,
                until_s: (lead + self.late_deg()) / (6.0 * rpm) + AFTER_S,
                accuracy: COARSE,
            };
            let mut joules = vec![0.0; plugs.len()];
            let mut last = vec![0.0; plugs.len()];
            let mut before_s = 0.0;
            self.follow(window, &|_| (), &mut |at_s, wiring, now| {
                let h = at_s - before_s;
                before_s = at_s;
                for (n, &part) in plugs.iter().enumerate() {
                    let Some(line) = wiring.line(Place::Part(part), "gap") else {
                        continue;
                    };
                    let (a, b) = wiring.net.element(line.element).nodes();
                    let watts = now.between(a, b) * now.current(line.element);
                    joules[n] += h * f64::midpoint(last[n], watts);
                    last[n] = watts;
                }
                // Two plugs of one coil spark at once: one is not given up for the other.
                let mut sparks = joules.iter().filter(|j| **j > 0.0).peekable();
                match sparks.peek().is_some() && sparks.all(|j| *j >= LIGHTS_J) {
                    true => ControlFlow::Break(()),
                    false => ControlFlow::Continue(()),
                }
            })?;
            let lights = plugs.iter().zip(&joules).filter(|(_, j)| **j >= LIGHTS_J);
            lit.extend(lights.map(|(plug, _)| *plug));
        }
        lit.sort_unstable();
        lit.dedup();
        Ok(lit)
    }

    /// Degrees of the crankshaft by which the sparks come late.
    fn late_deg(&self) -> f64 {
        let parts = 0..self.circuit.parts.len();
        let kind = |n: usize| self.circuit.parts[n].kind;
        let late = parts.filter_map(|n| self.look(n, |look| kind(n).retards_deg(&look.context)));
        late.fold(0.0, f64::max)
    }

    /// How the engine fires, as one hears it.
    pub(super) fn notice_firing(&self) -> Option<Notice> {
        let (firing, all) = self.firing();
        let running = self.state.engine == Engine::Running;
        if all == 0 || self.rpm() < FIRING_RPM && !self.died {
            return None;
        }
        let (text, sign) = match (running, firing) {
            _ if self.died => ("dies".to_owned(), "dies"),
            (_, 0) if self.coughs => (
                "does not fire, but coughs as the key is let go".to_owned(),
                "coughs",
            ),
            (_, 0) => ("does not fire".to_owned(), "dead"),
            (true, n) if n == all && self.late_deg() >= WEAK_DEG => {
                ("runs evenly, but weakly".to_owned(), "late")
            }
            (true, n) if n == all => ("runs evenly".to_owned(), "even"),
            (false, n) if n == all => ("fires".to_owned(), "even"),
            (true, _) => ("runs rough".to_owned(), "rough"),
            (false, _) => ("fires unevenly".to_owned(), "rough"),
        };
        let plug = self.circuit.parts.iter().find(|p| p.kind.sparks())?;
        Some(Notice {
            kind: NoticeKind::Firing,
            part: plug.id.clone(),
            text: format!("the engine {text}"),
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}

fn hash(of: &impl Hash) -> u64 {
    let mut hasher = DefaultHasher::new();
    of.hash(&mut hasher);
    hasher.finish()
}
