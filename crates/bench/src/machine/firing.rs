//! Which cylinders fire, and what is heard of it.

use std::collections::BTreeMap;
use std::ops::ControlFlow;
use std::sync::Arc;

use super::shared::Beside;
use super::time::{COARSE, Window};
use super::{Bench, BenchError, settle};
use cimento_model::circuit::Place;
use cimento_model::part::{Notice, NoticeKind};
use cimento_model::stamped::{ElementTag, StampedNetlist};
use cimento_model::state::{ENGINE, Engine};
use cimento_model::strokes::Strokes;
use cimento_parts::TOWER;
use cimento_solver::Node;

/// Below this cranking speed an engine does not fire, in revolutions per minute; common practice.
pub(super) const FIRING_RPM: f64 = 60.0;
/// The least that lights a mixture, in joules; common practice.
pub(super) const LIGHTS_J: f64 = 2e-3;
/// A firing is looked at from this share of the way from the one before, but no more degrees, to so many
/// seconds after it comes, late or not.
const LEAD: f64 = 0.9;
const LONGEST_LEAD_DEG: f64 = 170.0;
const AFTER_S: f64 = 0.002;

/// No engine is made to fire earlier than so many degrees; common practice.
const EARLY_DEG: f64 = 60.0;
/// An engine that fires so many degrees late pulls weakly; common practice.
const WEAK_DEG: f64 = 5.0;

/// A mixture that is squeezed less than this beside a sound cylinder's does not burn; common practice.
const BURNS: f64 = 0.6;
/// A spark so many degrees before a cylinder should fire, least and most, finds its valve open and fresh
/// mixture behind it: the engine backfires. At other wrong times there is nothing to burn.
const VALVE_OPEN_DEG: std::ops::Range<f64> = 180.0..360.0;
/// A coil whose tower comes to so many volts because no spark jumps is harmed; common practice: coils
/// reach 30 kV to 40 kV.
const HARMS_V: f64 = 30_000.0;

/// The element of a plug that its spark jumps.
const GAP: &str = "gap";
/// How an engine is heard that does not fire, and one all of whose cylinders do.
const DEAD: &str = "dead";
const EVEN: &str = "even";

/// What the sparks of a machine come to.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(super) struct Sparks {
    /// The plugs that light the mixture of their cylinder, by the position of the part.
    lit: Vec<usize>,
    /// One sparks while its cylinder takes in mixture.
    backfires: bool,
    /// The coils that fire with nowhere to spark.
    strained: Vec<usize>,
}

/// What the sparks came to in the ways that a machine has stood, by their numbers.
#[derive(Debug, Clone, Default)]
pub(super) struct Fired {
    seen: BTreeMap<usize, Sparks>,
    /// What both of two machines did that this one lies between.
    expected: Arc<BTreeMap<usize, Sparks>>,
    /// Every plug is taken to light: nobody looks.
    unseen: bool,
    /// What a look may end at.
    beside: Beside,
}

/// One firing as it was seen.
struct Firing {
    /// Of each plug.
    joules: Vec<f64>,
    /// The coils whose towers rose too far, some more than once.
    strained: Vec<usize>,
}

impl Bench {
    /// Takes the machine to fire wherever two others do so alike in the same state and with the same
    /// levels: their faults are milder and worse than its own, and following a spark in time is slow. All
    /// three share what they know.
    pub fn lies_between(&mut self, a: &Bench, b: &Bench) {
        let same = |(key, sparks): &(&usize, &Sparks)| b.fired.seen.get(key) == Some(sparks);
        let alike = a.fired.seen.iter().filter(same);
        let alike = alike.map(|(key, sparks)| (*key, sparks.clone())).collect();
        self.fired.expected = Arc::new(alike);
    }

    /// From now on every plug is taken to light, or each is looked at again.
    pub(super) fn take_to_fire(&mut self, unseen: bool) {
        self.fired.unseen = unseen;
    }

    /// From now on a look at the sparks ends once the machine does otherwise than one that was heard to fire
    /// in some way.
    pub(super) fn fires_beside(&mut self, sign: Option<&str>) {
        self.fired.beside = match sign {
            Some(DEAD) => Beside::Dead,
            Some(EVEN) => Beside::Even,
            _ => Beside::Nothing,
        };
    }

    /// What the sparks come to in the present state.
    fn look_at_sparks(&mut self) -> Result<Sparks, BenchError> {
        if self.fired.unseen {
            return Ok(Sparks {
                lit: self.plugs(),
                ..Sparks::default()
            });
        }
        let key = self
            .shared
            .stand(&self.state, &self.parts, self.faults.len());
        let sparks = match self.fired.expected.get(&key) {
            Some(sparks) => sparks.clone(),
            None => self.known_sparks()?,
        };
        self.fired.seen.insert(key, sparks.clone());
        Ok(sparks)
    }

    fn known_sparks(&self) -> Result<Sparks, BenchError> {
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        let key = self.shared.spark_key(&self.state, active, &self.parts);
        let partly = key.clone().beside(self.fired.beside);
        let known = self.shared.sparks(&key);
        if let Some(known) = known.or_else(|| self.shared.sparks(&partly)) {
            return Ok(known);
        }
        let (sparks, all) = self.follow_firings()?;
        let key = if all { key } else { partly };
        self.shared.keep_sparks(key, sparks.clone());
        Ok(sparks)
    }

    /// Sees which cylinders fire. An engine that runs with none stops.
    pub(super) fn fire(&mut self) -> Result<(), BenchError> {
        if !self.circuit.sparks() {
            return Ok(());
        }
        // What was seen in the state before counts no more.
        self.note(&Sparks::default());
        let sparks = if self.rpm() >= FIRING_RPM && self.is_fuelled() {
            self.look_at_sparks()?
        } else {
            Sparks::default()
        };
        self.note(&sparks);
        self.backfires = sparks.backfires;
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

    /// Puts down on the parts what the sparks come to.
    fn note(&mut self, sparks: &Sparks) {
        for (n, part) in self.circuit.parts.iter().enumerate() {
            let level = if part.kind.sparks() {
                let fitted = part.kind.is_in_cylinder(part, &self.state);
                u64::from(fitted && sparks.lit.contains(&n))
            } else if part.kind.is_harmed() {
                u64::from(sparks.strained.contains(&n))
            } else {
                continue;
            };
            self.parts[n].level = level;
            for point in &mut self.settled.points {
                point.parts[n].level = level;
            }
        }
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
        Ok(after.is_fuelled() && !after.known_sparks()?.lit.is_empty())
    }

    /// Whether the engine gets fuel; on a machine whose injectors are no part of the circuit it does, unless it is what is
    /// wrong with the engine that it gets none.
    fn is_fuelled(&self) -> bool {
        let parts = 0..self.circuit.parts.len();
        let kind = |n: usize| self.circuit.parts[n].kind;
        let dry = |n: usize| {
            let engine = kind(n).mechanics()?;
            self.look(n, |look| !engine.gets_fuel(&look.context))
        };
        if parts.clone().any(|n| dry(n).unwrap_or(false)) {
            return false;
        }
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

    /// Each firing is looked at for as long as it takes to tell what its sparks come to; and whether all
    /// were.
    fn follow_firings(&self) -> Result<(Sparks, bool), BenchError> {
        let strokes = Strokes::of(&self.circuit);
        let every = strokes.every_deg();
        let compression = self.compression(&strokes);
        let lead = (LEAD * every).min(LONGEST_LEAD_DEG);
        let plugs: Vec<(usize, usize)> = self
            .plugs()
            .into_iter()
            .map(|n| {
                let part = &self.circuit.parts[n];
                let cylinder = part.kind.cylinder(&part.params).map_or(1, |c| c.number);
                (n, strokes.place(cylinder))
            })
            .collect();
        let mut out = Sparks::default();
        let mut all = true;
        for firing in 0..strokes.cylinders {
            let window = Window {
                from_deg: every * firing as f64 - lead,
                until_s: (lead + self.late_deg()) / (6.0 * self.rpm()) + AFTER_S,
                accuracy: COARSE,
            };
            let seen = self.look_at_firing(firing, window, &plugs)?;
            for (&(plug, own), joules) in plugs.iter().zip(&seen.joules) {
                if *joules < LIGHTS_J {
                    continue;
                }
                let after_deg = every * (firing + strokes.cylinders - own) as f64;
                let before_deg = (-after_deg).rem_euclid(strokes.period_deg);
                if own == firing && compression[own] >= BURNS {
                    out.lit.push(plug);
                } else if strokes.period_deg > 360.0 && VALVE_OPEN_DEG.contains(&before_deg) {
                    out.backfires = true;
                }
            }
            out.strained.extend(seen.strained);
            let own = plugs.iter().filter(|(_, own)| *own == firing);
            let lights = own.clone().all(|(plug, _)| out.lit.contains(plug));
            let (told, later) = match self.fired.beside {
                Beside::Nothing => (false, false),
                Beside::Dead => (!out.lit.is_empty(), false),
                // Of one cylinder alone there is no even beside rough.
                Beside::Even => (!lights && plugs.len() > own.count(), true),
            };
            if told && firing + 1 < strokes.cylinders {
                // Those that nobody looked at are taken to do as the other machine's do.
                let rest = plugs.iter().filter(|(_, own)| later && *own > firing);
                out.lit.extend(rest.map(|(plug, _)| *plug));
                all = false;
                break;
            }
        }
        out.lit.sort_unstable();
        out.strained.sort_unstable();
        out.strained.dedup();
        Ok((out, all))
    }

    /// What the plugs turn to heat in one firing, and which coils find nowhere to spark.
    fn look_at_firing(
        &self,
        firing: usize,
        window: Window,
        plugs: &[(usize, usize)],
    ) -> Result<Firing, BenchError> {
        let parts = self.circuit.parts.iter().enumerate();
        let coils: Vec<usize> = parts
            .filter(|(_, p)| p.kind.is_harmed())
            .map(|(n, _)| n)
            .collect();
        let mut joules = vec![0.0; plugs.len()];
        let mut last = vec![0.0; plugs.len()];
        let mut strained = Vec::new();
        let mut before_s = 0.0;
        let counts_s =
            window.until_s - AFTER_S - (EARLY_DEG + self.late_deg()) / (6.0 * self.rpm());
        let looked_at = |wiring: &StampedNetlist| -> Vec<Node> {
            let tags = wiring.tags().iter();
            let tags = tags.filter(|tag| tag.name == GAP || tag.name == TOWER);
            let ends = |tag: &ElementTag| {
                let (a, b) = wiring.net.element(tag.element).nodes();
                [a, b]
            };
            tags.flat_map(ends).collect()
        };
        self.follow(
            window,
            &|_| (),
            Some(&looked_at),
            &mut |at_s, wiring, now| {
                let across = |line: &ElementTag| {
                    let (a, b) = wiring.net.element(line.element).nodes();
                    now.between(a, b)
                };
                let h = at_s - before_s;
                before_s = at_s;
                for (n, &(part, _)) in plugs.iter().enumerate() {
                    let Some(line) = wiring.tagged(Place::Part(part), GAP) else {
                        continue;
                    };
                    // What jumps as a coil begins to charge is not what it was charged for.
                    let watts = match at_s >= counts_s {
                        true => across(line) * now.current(line.element),
                        false => 0.0,
                    };
                    joules[n] += h * f64::midpoint(last[n], watts);
                    last[n] = watts;
                }
                for &coil in &coils {
                    let tower = wiring.tagged(Place::Part(coil), TOWER);
                    if tower.is_some_and(|line| across(line).abs() >= HARMS_V) {
                        strained.push(coil);
                    }
                }
                // A plug whose turn it is not may spark before, and two plugs of one coil spark at once: one is
                // not given up for the other.
                let enough = |j: f64| j == 0.0 || j >= LIGHTS_J;
                let mut each = plugs.iter().zip(&joules);
                let told = each.clone().any(|((_, own), j)| *own == firing && *j > 0.0);
                match told && each.all(|(_, j)| enough(*j)) {
                    true => ControlFlow::Break(()),
                    false => ControlFlow::Continue(()),
                }
            },
        )?;
        Ok(Firing { joules, strained })
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
        let even = firing == all;
        let (text, sign) = match (running, firing) {
            _ if self.died => ("dies", "dies"),
            (_, 0) if self.coughs => ("does not fire, but coughs as the key is let go", "coughs"),
            (_, 0) if self.backfires => ("does not fire, but backfires", "backfires"),
            (_, 0) => ("does not fire", DEAD),
            (true, _) if self.backfires => ("runs rough and backfires", "backfires"),
            (false, _) if self.backfires => ("fires unevenly and backfires", "backfires"),
            (true, _) if even && self.late_deg() >= WEAK_DEG => ("runs evenly, but weakly", "late"),
            (true, _) if even => ("runs evenly", EVEN),
            (false, _) if even => ("fires", EVEN),
            (true, _) => ("runs rough", "rough"),
            (false, _) => ("fires unevenly", "rough"),
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
