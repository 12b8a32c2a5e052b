//! JSON drawn from a schema (OpenAPI 3.1, which is JSON Schema 2020-12): nearly always what the schema says, now and
//! then anything.

use fastrand::Rng;
use serde_json::{Map, Value, json};

use crate::words::Words;

/// Deeper than this nothing is put into anything.
const DEEPEST: usize = 7;
/// One value in so many is not what the schema says.
const WRONG: usize = 60;

/// Schemas that refer to one another, and words to put in.
pub struct Arbitrary {
    schemas: Value,
    words: Words,
}

impl Arbitrary {
    /// `document` is an OpenAPI description.
    pub fn new(document: &Value, words: Words) -> Self {
        Self {
            schemas: document["components"]["schemas"].clone(),
            words,
        }
    }

    /// A value of the schema of a name.
    pub fn named(&self, name: &str, rng: &mut Rng) -> Value {
        self.of(&self.schemas[name], rng, 0)
    }

    /// A value of a schema.
    pub fn of(&self, schema: &Value, rng: &mut Rng, depth: usize) -> Value {
        if rng.usize(..WRONG) == 0 {
            return self.anything(rng, depth);
        }
        if let Some(name) = schema["$ref"].as_str() {
            let name = name.rsplit('/').next().unwrap_or_default();
            return self.of(&self.schemas[name], rng, depth);
        }
        for choice in ["oneOf", "anyOf"] {
            if let Some(of) = schema[choice].as_array().filter(|of| !of.is_empty()) {
                return self.of(&of[rng.usize(..of.len())], rng, depth);
            }
        }
        if let Some(all) = schema["allOf"].as_array() {
            return self.together(all, schema, rng, depth);
        }
        if let Some(values) = schema["enum"].as_array().filter(|v| !v.is_empty()) {
            return values[rng.usize(..values.len())].clone();
        }
        let kind = match &schema["type"] {
            Value::Array(kinds) if !kinds.is_empty() => kinds[rng.usize(..kinds.len())].clone(),
            kind => kind.clone(),
        };
        match kind.as_str() {
            Some("object") => Value::Object(self.object(schema, rng, depth)),
            Some("array") => self.array(schema, rng, depth),
            Some("string") => self.words.one(rng).into(),
            Some("integer") => integer(rng),
            Some("number") => number(rng),
            Some("boolean") => rng.bool().into(),
            Some("null") => Value::Null,
            _ => self.anything(rng, depth),
        }
    }

    /// The members of all of some schemas, and of the one that says so.
    fn together(&self, all: &[Value], schema: &Value, rng: &mut Rng, depth: usize) -> Value {
        let mut out = self.object(schema, rng, depth);
        for part in all {
            match self.of(part, rng, depth) {
                Value::Object(members) => out.extend(members),
                other if all.len() == 1 => return other,
                _ => {}
            }
        }
        Value::Object(out)
    }

    fn object(&self, schema: &Value, rng: &mut Rng, depth: usize) -> Map<String, Value> {
        let mut out = Map::new();
        let required = schema["required"].as_array();
        let is_required = |name: &str| required.is_some_and(|all| all.iter().any(|r| r == name));
        for (name, member) in schema["properties"].as_object().into_iter().flatten() {
            let put = match is_required(name) {
                true => rng.usize(..WRONG) > 0,
                false => depth < DEEPEST && rng.bool(),
            };
            if put {
                out.insert(name.clone(), self.of(member, rng, depth + 1));
            }
        }
        let more = &schema["additionalProperties"];
        if more.is_object() && depth < DEEPEST {
            for _ in 0..rng.usize(..6) {
                out.insert(self.words.one(rng), self.of(more, rng, depth + 1));
            }
        }
        if rng.usize(..WRONG) == 0 {
            out.insert(self.words.one(rng), self.anything(rng, depth + 1));
        }
        out
    }

    fn array(&self, schema: &Value, rng: &mut Rng, depth: usize) -> Value {
        let most = match depth < DEEPEST {
            true => 5,
            false => 1,
        };
        // Long ones are of one and the same, as who wants to fill something would send.
        match rng.usize(..200) {
            0 => Value::Array(vec![
                self.of(&schema["items"], rng, DEEPEST);
                rng.usize(..20_000)
            ]),
            _ => (0..rng.usize(..most))
                .map(|_| self.of(&schema["items"], rng, depth + 1))
                .collect(),
        }
    }

    /// Any JSON.
    pub fn anything(&self, rng: &mut Rng, depth: usize) -> Value {
        match rng.u8(..if depth < DEEPEST { 8 } else { 6 }) {
            0 => Value::Null,
            1 => rng.bool().into(),
            2 => integer(rng),
            3 => number(rng),
            4 | 5 => self.words.one(rng).into(),
            6 => {
                // Deep, and the same all the way down.
                let name = self.words.one(rng);
                (0..rng.usize(..600)).fold(json!([]), |inner, _| json!({name.as_str(): inner}))
            }
            _ => (0..rng.usize(..4))
                .map(|_| self.anything(rng, depth + 1))
                .collect(),
        }
    }
}

/// Mostly small.
pub fn integer(rng: &mut Rng) -> Value {
    match rng.u8(..12) {
        0 => i64::MAX.into(),
        1 => i64::MIN.into(),
        2 => u64::MAX.into(),
        3 => i32::MIN.into(),
        4 => rng.i64(..).into(),
        5 => (-1).into(),
        _ => rng.i64(0..20).into(),
    }
}

/// Mostly as they are in circuits.
pub fn number(rng: &mut Rng) -> Value {
    const ODD: [f64; 10] = [
        0.0, -0.0, -1.0, 1e308, -1e308, 5e-324, 1e-12, 1e12, 0.1, 12.6,
    ];
    match rng.u8(..4) {
        0 => ODD[rng.usize(..ODD.len())].into(),
        1 => rng.i64(0..100).into(),
        _ => (rng.f64() * 10f64.powi(rng.i32(-3..4))).into(),
    }
}
