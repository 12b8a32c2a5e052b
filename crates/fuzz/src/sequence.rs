//! Actions as somebody at a bench might do them: of every kind, with the names of the machine, now and then with one
//! that it does not have.

use cimento_bench::instruments::{Function, SWEEPS};
use cimento_diagnosis::attempt::repairs;
use cimento_diagnosis::lesson::Lesson;
use fastrand::Rng;
use serde_json::{Value, json};

/// What there is at a machine.
pub struct AtHand {
    points: Vec<String>,
    places: Vec<String>,
    modes: Vec<Vec<&'static str>>,
    repairs: Vec<Vec<Value>>,
    wires: Vec<String>,
    leads: Vec<String>,
    parts: Vec<String>,
    apart: Vec<String>,
    alike: Vec<[String; 2]>,
    controls: Vec<(String, Vec<String>)>,
    functions: Vec<Function>,
}

/// One of some, or a name that nothing has.
fn one<'a>(of: &'a [String], rng: &mut Rng) -> &'a str {
    match of.len() {
        0 => "X99.9",
        _ if rng.u8(..30) == 0 => "X99.9",
        n => &of[rng.usize(..n)],
    }
}

impl AtHand {
    pub fn of(lesson: &Lesson) -> Self {
        let circuit = &lesson.circuit;
        let drawing = circuit.drawing();
        let places: Vec<_> = circuit.places().collect();
        let modes = |p| circuit.modes(p).iter().map(|m| m.name).collect();
        let mends = |p| {
            let all = repairs(circuit, p).iter();
            all.map(|how| serde_json::to_value(how).unwrap_or_default())
                .collect()
        };
        let controls = circuit.controls().into_iter();
        Self {
            points: circuit.test_points.iter().map(|p| p.id.clone()).collect(),
            places: places
                .iter()
                .map(|p| circuit.place_id(*p).to_owned())
                .collect(),
            modes: places.iter().copied().map(modes).collect(),
            repairs: places.into_iter().map(mends).collect(),
            wires: drawing.wires.iter().map(|w| w.id.clone()).collect(),
            leads: drawing.leads.clone(),
            parts: circuit.parts.iter().map(|p| p.id.clone()).collect(),
            apart: circuit.comes_apart(),
            alike: circuit.exchangeable(),
            controls: controls.map(|c| (c.name, c.positions)).collect(),
            functions: Function::all().collect(),
        }
    }

    /// An action after so many steps.
    pub fn action(&self, steps: usize, rng: &mut Rng) -> Value {
        let at = rng.usize(..self.places.len());
        match rng.u8(..40) {
            0..=6 => self.control(rng),
            7..=13 => self.reading(rng),
            14 => self.screen(rng),
            15 | 16 => json!({"do": "take_apart", "what": one(&self.apart, rng)}),
            17 | 18 => json!({"do": "put_back", "what": one(&self.apart, rng)}),
            19 => {
                json!({"do": "join", "from": one(&self.points, rng), "to": one(&self.points, rng), "fused": rng.bool()})
            }
            20 => {
                json!({"do": "unjoin", "from": one(&self.points, rng), "to": one(&self.points, rng)})
            }
            21 => match rng.bool() {
                true => json!({"do": "support", "plus": "BAT.+", "minus": "BAT.-"}),
                false => json!({"do": "unsupport"}),
            },
            22 => json!({"do": "wiggle", "what": one(&self.places, rng)}),
            23 => json!({"do": (["rest", "warm_up", "cool_down", "wet", "dry"])[rng.usize(..5)]}),
            24 => json!({"do": "wait", "minutes": ([0.5, 5.0, 30.0, -1.0, 1e9])[rng.usize(..5)]}),
            25 | 26 => json!({"do": "inspect", "place": one(&self.places, rng)}),
            27 => match self.alike.is_empty() {
                true => {
                    json!({"do": "swap", "a": one(&self.parts, rng), "b": one(&self.parts, rng)})
                }
                false => {
                    let [a, b] = &self.alike[rng.usize(..self.alike.len())];
                    json!({"do": "swap", "a": a, "b": b})
                }
            },
            28 => json!({"do": "fit_known_good", "part": one(&self.parts, rng)}),
            29 => json!({"do": "fit_own", "part": one(&self.parts, rng)}),
            30 => json!({"do": "clear_codes", "module": one(&self.parts, rng)}),
            31 => json!({"do": (["zero_leads", "renew_meter_fuse"])[rng.usize(..2)]}),
            32 => json!({"do": "try_complaint"}),
            33 => json!({"do": "seal", "wire": one(&self.wires, rng)}),
            34 => {
                let verdict = ([
                    "normal",
                    "borderline",
                    "too_low",
                    "too_high",
                    "abnormal",
                    "tells_nothing",
                ])[rng.usize(..6)];
                json!({"do": "judge", "step": rng.usize(..steps + 2), "verdict": verdict})
            }
            35 => {
                let what = (["clear", "suspect"])[rng.usize(..2)];
                json!({"do": what, "places": [one(&self.places, rng)]})
            }
            36 => match rng.bool() {
                true => json!({"do": "note", "step": rng.usize(..steps + 2), "text": "It hums."}),
                false => json!({"do": "label", "connector": one(&self.apart, rng)}),
            },
            37 => {
                let mode = self.modes[at].get(rng.usize(..self.modes[at].len().max(1)));
                json!({"do": "name_fault", "place": self.places[at], "mode": mode})
            }
            38 => {
                let how = self.repairs[at].get(rng.usize(..self.repairs[at].len().max(1)));
                json!({"do": "repair", "place": self.places[at], "how": how})
            }
            _ => json!({"do": "find_no_fault"}),
        }
    }

    fn control(&self, rng: &mut Rng) -> Value {
        if self.controls.is_empty() {
            return json!({"do": "rest"});
        }
        let (name, positions) = &self.controls[rng.usize(..self.controls.len())];
        json!({"do": "set_control", "control": name, "position": one(positions, rng)})
    }

    fn reading(&self, rng: &mut Rng) -> Value {
        let function = match rng.bool() {
            true => self.functions[rng.usize(..self.functions.len())],
            false => Function::DC_VOLTS,
        };
        let red = match rng.u8(..6) {
            0 => one(&self.wires, rng),
            1 => one(&self.leads, rng),
            2 => one(&self.parts, rng),
            _ => one(&self.points, rng),
        };
        let touch = (["pin", "pin", "pin", "thick", "pierce"])[rng.usize(..5)];
        json!({"do": "take_reading", "function": function, "red": red, "black": (["BAT.-", one(&self.points, rng)])[rng.usize(..2)], "touch": touch})
    }

    fn screen(&self, rng: &mut Rng) -> Value {
        let channel = |rng: &mut Rng| match rng.u8(..4) {
            0 => json!({"with": "pickup", "lead": one(&self.leads, rng)}),
            1 => json!({"with": "clamp", "wire": one(&self.wires, rng)}),
            _ => json!({"with": "leads", "red": one(&self.points, rng), "black": "BAT.-"}),
        };
        let channels: Vec<Value> = (0..rng.usize(1..4)).map(|_| channel(rng)).collect();
        json!({"do": "capture", "scope": {"channels": channels, "sweep_s": SWEEPS[rng.usize(..SWEEPS.len())], "attenuation": (["×1", "×10"])[rng.usize(..2)]}})
    }
}
