//! The operating state of the machine, as a document and as the bench uses it.

use std::hash::{Hash, Hasher};

use indexmap::IndexMap;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::circuit::{Circuit, ConductorKind, Place, Problem};
use crate::part::Control;

/// Temperature of a cold machine in the shop, in °C.
const SHOP_C: f64 = 20.0;

/// Label of the trial's state in which nothing is switched on.
pub const AT_REST: &str = "at rest";
/// Every place of the machine, as what is being moved.
pub const EVERYTHING: &str = "everything";

fn shop_c() -> f64 {
    SHOP_C
}

fn is_zero(n: &f64) -> bool {
    *n == 0.0
}

fn off() -> String {
    "off".to_owned()
}

/// Key, levers and everything that is done to the machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OperatingState {
    /// Position of the key switch.
    #[serde(default = "off")]
    pub key: String,
    /// Positions of the other controls, such as `clutch: down`.
    #[serde(default)]
    pub inputs: IndexMap<String, String>,
    /// What the engine does by itself; that it cranks comes out of the circuit.
    #[serde(default)]
    pub engine: Engine,
    /// Its speed while it runs, in revolutions per minute; idle when left out.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub engine_rpm: f64,
    /// It pulls as hard as it can.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub engine_loaded: bool,
    /// Connectors whose halves are apart, and grounds whose ring terminals are undone.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub unplugged: Vec<String>,
    /// Parts that are out of their socket.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub removed: Vec<String>,
    /// Pairs of points that a lead joins.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub jumpers: Vec<[String; 2]>,
    /// Jump packs, second batteries, bench supplies.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub supplies: Vec<Supply>,
    #[serde(default = "shop_c")]
    pub temperature_c: f64,
    /// Minutes since the engine stopped.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[serde(rename = "stopped_min")]
    pub stopped_minutes: f64,
    /// Places or harnesses that are being moved.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub moved: Vec<String>,
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub wet: bool,
}

// A state that has been checked holds no number that is none.
impl Eq for OperatingState {}

impl Hash for OperatingState {
    fn hash<H: Hasher>(&self, hasher: &mut H) {
        (&self.key, self.engine, self.engine_loaded, self.wet).hash(hasher);
        // Two states are one in whatever order their levers were moved.
        let mut inputs: Vec<_> = self.inputs.iter().collect();
        inputs.sort();
        inputs.hash(hasher);
        (&self.unplugged, &self.removed, &self.jumpers, &self.moved).hash(hasher);
        for supply in &self.supplies {
            (&supply.plus, &supply.minus).hash(hasher);
            [supply.volts, supply.ohms].map(f64::to_bits).hash(hasher);
        }
        let numbers = [self.engine_rpm, self.temperature_c, self.stopped_minutes];
        numbers.map(f64::to_bits).hash(hasher);
    }
}

/// What the engine does by itself.
#[derive(
    Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Engine {
    /// It stands, or turns as the starter turns it.
    #[default]
    Stopped,
    /// It runs by itself.
    Running,
}

/// Idle, and the fast idle at which charging is checked, in revolutions per minute; common practice.
const IDLE_RPM: f64 = 900.0;
const FAST_RPM: f64 = 2500.0;
/// From here on an engine is said to run fast.
const FAST_FROM_RPM: f64 = 1600.0;

/// The control that runs the engine, on machines where something needs it to.
pub const ENGINE: &str = "engine";
pub const ENGINE_POSITIONS: [&str; 4] = ["stopped", "idle", "fast", "loaded"];

/// A state in which the complaint is tried.
#[derive(Debug, Clone, PartialEq)]
pub struct TrialState {
    /// Position of the key, or the name of the lever that is tried.
    pub label: String,
    /// The key is being turned.
    pub turns_key: bool,
    pub state: OperatingState,
}

/// A supply from outside between two points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Supply {
    pub plus: String,
    pub minus: String,
    pub volts: f64,
    pub ohms: f64,
}

impl TrialState {
    /// The engine is turned in it, to be started.
    pub fn starts_engine(&self) -> bool {
        self.turns_key || self.label == AT_REST
    }
}

impl Default for OperatingState {
    fn default() -> Self {
        Self {
            key: off(),
            inputs: IndexMap::new(),
            engine: Engine::Stopped,
            engine_rpm: 0.0,
            engine_loaded: false,
            unplugged: Vec::new(),
            removed: Vec::new(),
            jumpers: Vec::new(),
            supplies: Vec::new(),
            temperature_c: SHOP_C,
            stopped_minutes: 0.0,
            moved: Vec::new(),
            wet: false,
        }
    }
}

/// With more levers than this only those that are not off are named.
const MOST_SAID: usize = 6;

impl OperatingState {
    /// All controls in their rest position.
    pub fn at_rest(circuit: &Circuit) -> Self {
        Self::with_controls(circuit, |c| c.rest)
    }

    /// The states in which the complaint is tried: the key turned step by step with every lever held
    /// as one holds it to work the machine, then each thing that is tried by itself, such as a horn
    /// button, with the key one step back from its last position.
    pub fn trial(circuit: &Circuit) -> Vec<TrialState> {
        let controls = circuit.controls();
        let held = Self::with_controls(circuit, |c| if c.alone { c.rest } else { c.worked });
        let key = controls.iter().find(|c| c.name == "key");
        let mut out = Vec::new();
        let positions = key.map_or(&[][..], |k| &k.positions);
        for position in positions {
            out.push(TrialState {
                label: position.clone(),
                turns_key: true,
                state: Self {
                    key: position.clone(),
                    ..held.clone()
                },
            });
        }
        let mut base = held;
        match positions.len().checked_sub(2) {
            Some(before_last) => base.key.clone_from(&positions[before_last]),
            None if key.is_none() => out.push(TrialState {
                label: AT_REST.to_owned(),
                turns_key: false,
                state: base.clone(),
            }),
            None => {}
        }
        for lever in controls.iter().filter(|c| c.alone) {
            let mut state = base.clone();
            state.set_control(&lever.name, lever.worked.clone());
            out.push(TrialState {
                label: lever.name.clone(),
                turns_key: false,
                state,
            });
        }
        if circuit.runs() {
            for speed in circuit.engine_positions()[1..]
                .iter()
                .filter(|s| circuit.is_telling(s))
            {
                let mut state = base.clone();
                state.set_control(ENGINE, (*speed).to_owned());
                out.push(TrialState {
                    label: format!("{ENGINE} {speed}"),
                    turns_key: false,
                    state,
                });
            }
        }
        out
    }

    /// Speed of the engine while it runs, in revolutions per minute.
    pub fn rpm(&self) -> f64 {
        match self.engine {
            Engine::Stopped => 0.0,
            Engine::Running if self.engine_rpm > 0.0 => self.engine_rpm,
            Engine::Running => IDLE_RPM,
        }
    }

    fn with_controls(circuit: &Circuit, pick: impl Fn(Control) -> String) -> Self {
        let mut state = Self::default();
        for control in circuit.controls() {
            if control.name != ENGINE {
                state.set_control(&control.name.clone(), pick(control));
            }
        }
        state
    }

    /// Position of a control; empty for one that the state does not set.
    pub fn control(&self, name: &str) -> &str {
        match name {
            "key" => &self.key,
            ENGINE => match self.rpm() {
                0.0 => ENGINE_POSITIONS[0],
                _ if self.engine_loaded => ENGINE_POSITIONS[3],
                rpm if rpm < FAST_FROM_RPM => ENGINE_POSITIONS[1],
                _ => ENGINE_POSITIONS[2],
            },
            _ => self.inputs.get(name).map_or("", String::as_str),
        }
    }

    /// Moves a control.
    pub fn set_control(&mut self, name: &str, position: String) {
        match name {
            "key" => self.key = position,
            ENGINE => {
                (self.engine, self.engine_rpm) = match position.as_str() {
                    "fast" | "loaded" => (Engine::Running, FAST_RPM),
                    "idle" => (Engine::Running, IDLE_RPM),
                    _ => (Engine::Stopped, 0.0),
                };
                self.engine_loaded = position == ENGINE_POSITIONS[3];
            }
            _ => {
                self.inputs.insert(name.to_owned(), position);
            }
        }
    }

    /// Takes a connector or part out of the circuit, or the ring terminals off a ground. A name that is none is found by
    /// [`OperatingState::check`].
    pub fn take_apart(&mut self, circuit: &Circuit, what: &str) {
        let doc = &circuit.doc;
        let list = if doc.connectors.contains_key(what) || doc.grounds.contains_key(what) {
            &mut self.unplugged
        } else {
            &mut self.removed
        };
        if !list.iter().any(|w| w == what) {
            list.push(what.to_owned());
        }
    }

    /// Puts it back.
    pub fn put_back(&mut self, what: &str) {
        self.unplugged.retain(|w| w != what);
        self.removed.retain(|w| w != what);
    }

    /// The state in a few words: "start · clutch down".
    pub fn about(&self) -> String {
        // What is as it always is on a whole machine goes without saying.
        let many = self.inputs.len() > MOST_SAID;
        let inputs = self.inputs.iter().filter(|(name, at)| {
            if many && at.as_str() == "off" {
                return false;
            }
            let usual = name.as_str() == "breaker" && at.as_str() == "closed";
            at.as_str() != "fitted" && !usual
        });
        let inputs = inputs.map(|(name, at)| format!("{name} {at}"));
        let mut words: Vec<String> = std::iter::once(self.key.clone()).chain(inputs).collect();
        if self.engine == Engine::Running {
            let load = if self.engine_loaded { ", loaded" } else { "" };
            words.push(format!("engine {:.0} rpm{load}", self.rpm()));
        }
        words.extend(self.unplugged.iter().map(|c| format!("{c} apart")));
        words.extend(self.removed.iter().map(|p| format!("{p} out")));
        words.extend(
            self.jumpers
                .iter()
                .map(|[a, b]| format!("{a} joined to {b}")),
        );
        let supplies = self.supplies.iter();
        words.extend(supplies.map(|s| format!("{:.1} V on {}", s.volts, s.plus)));
        if (self.temperature_c - SHOP_C).abs() > 2.0 {
            words.push(format!("{:.0} °C", self.temperature_c));
        }
        words.extend(self.moved.iter().map(|m| format!("{m} moved")));
        if self.wet {
            words.push("wet".to_owned());
        }
        words.join(" · ")
    }

    /// Checks a state against a circuit.
    ///
    /// # Errors
    /// Every [`Problem`] with its path.
    pub fn check(&self, circuit: &Circuit) -> Result<(), Vec<Problem>> {
        let mut out = Vec::new();
        let controls = circuit.controls();
        if !(0.0..=12_000.0).contains(&self.engine_rpm) {
            out.push(Problem::refused("engine_rpm", "expected 0 to 12000 rpm"));
        }
        let named = std::iter::once(("key", &self.key))
            .chain(self.inputs.iter().map(|(name, at)| (name.as_str(), at)));
        for (name, at) in named {
            let path = if name == "key" {
                "key".to_owned()
            } else {
                format!("inputs.{name}")
            };
            match controls.iter().find(|c| c.name == name) {
                Some(c) if c.positions.contains(at) => {}
                Some(c) => out.push(Problem::refused(
                    path,
                    format!(
                        "“{at}” is no position of {name}: expected {}",
                        c.positions.join(", ")
                    ),
                )),
                None if name == "key" && *at == off() => {}
                None => out.push(Problem::refused(
                    path,
                    format!("the machine has no control {name}"),
                )),
            }
        }
        for (n, id) in self.unplugged.iter().enumerate() {
            let doc = &circuit.doc;
            if !doc.connectors.contains_key(id) && !doc.grounds.contains_key(id) {
                out.push(Problem::refused(
                    format!("unplugged[{n}]"),
                    format!("there is no connector or ground {id}"),
                ));
            }
        }
        for (n, id) in self.removed.iter().enumerate() {
            if circuit.part(id).is_none() {
                out.push(Problem::refused(
                    format!("removed[{n}]"),
                    format!("there is no part {id}"),
                ));
            }
        }
        for (n, what) in self.moved.iter().enumerate() {
            let mut conductors = circuit.conductors.iter();
            let harness = conductors.any(|c| c.harness.as_ref() == Some(what));
            if !harness && what != EVERYTHING && circuit.place(what).is_none() {
                out.push(Problem::refused(
                    format!("moved[{n}]"),
                    format!("there is no place or harness {what}"),
                ));
            }
        }
        let jumpers = self.jumpers.iter().flatten().map(|p| ("jumpers", p));
        let supplies = self
            .supplies
            .iter()
            .flat_map(|s| [("supplies", &s.plus), ("supplies", &s.minus)]);
        for (path, point) in jumpers.chain(supplies) {
            if circuit.node(point).is_none() {
                out.push(Problem::refused(
                    path,
                    format!("there is no test point {point}"),
                ));
            }
        }
        for s in &self.supplies {
            if !(s.ohms > 0.0 && s.ohms.is_finite() && s.volts.abs() <= 60.0) {
                out.push(Problem::refused(
                    "supplies",
                    "expected ohms above 0 and at most 60 volts",
                ));
            }
        }
        if !(-60.0..=200.0).contains(&self.temperature_c) {
            out.push(Problem::refused("temperature_c", "expected −60 to 200 °C"));
        }
        if out.is_empty() { Ok(()) } else { Err(out) }
    }

    /// Whether a place is out of the circuit: its connector apart, its part out of the socket.
    pub fn is_apart(&self, circuit: &Circuit, place: Place) -> bool {
        match place {
            Place::Conductor(n) => {
                let conductor = &circuit.conductors[n];
                let by = match conductor.kind {
                    ConductorKind::Ground => Some(&conductor.id),
                    _ => conductor.connector.as_ref(),
                };
                by.is_some_and(|what| self.unplugged.contains(what))
            }
            Place::Part(n) | Place::Pin(n, _) => self.removed.contains(&circuit.parts[n].id),
        }
    }
}

impl Circuit {
    /// The knobs and levers of the machine: each name once, the engine's last.
    pub fn controls(&self) -> Vec<Control> {
        let mut out: Vec<Control> = Vec::new();
        for control in self.parts.iter().filter_map(|p| p.kind.control(p)) {
            if !out.iter().any(|c| c.name == control.name) {
                out.push(control);
            }
        }
        if self.runs() {
            let positions = self.engine_positions();
            let positions: Vec<String> = positions.iter().map(|p| (*p).to_owned()).collect();
            out.push(Control {
                name: ENGINE.to_owned(),
                rest: positions[0].clone(),
                worked: positions[0].clone(),
                positions,
                alone: false,
            });
        }
        out
    }

    /// What the engine can be made to do: under load only where it matters to a spark.
    fn engine_positions(&self) -> &'static [&'static str] {
        let all = &ENGINE_POSITIONS;
        if self.sparks() { all } else { &all[..3] }
    }

    /// Whether an engine position is worth a trial: without anything that charges, a spark fails under
    /// load first, and revving alone tells nothing that idle does not.
    fn is_telling(&self, position: &str) -> bool {
        let charges = self.parts.iter().any(|p| p.kind.charges());
        position != "fast" || charges || !self.sparks()
    }

    /// Whether the circuit makes the engine's sparks.
    pub fn sparks(&self) -> bool {
        self.parts.iter().any(|p| p.kind.sparks())
    }

    /// Whether the engine can be run: something in the circuit needs it to.
    pub fn runs(&self) -> bool {
        self.parts.iter().any(|p| p.kind.needs_engine())
    }
}
