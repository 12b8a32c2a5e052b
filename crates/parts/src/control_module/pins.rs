//! A module's table: what each pin is, and which codes it can set.

use indexmap::IndexMap;
use serde::Deserialize;
use serde_json::Value;

use super::condition::Condition;
use super::{MOST_CODES, NUMBERS, PINS};

/// What a pin is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum PinKind {
    /// Supply; the first holds the module up.
    Feed,
    Ground,
    /// 5 V for sensors.
    Reference,
    /// Ground for sensors.
    LowReference,
    /// Input with a resistor to 5 V, or to the feed when `volts` says more.
    PullUp,
    /// Input with a resistor to ground.
    PullDown,
    /// Input that draws next to nothing.
    Analog,
    /// Driver to ground.
    LowSide,
    /// Driver to the feed.
    HighSide,
}

impl PinKind {
    /// The module looks at its voltage.
    pub fn is_input(self) -> bool {
        matches!(
            self,
            Self::PullUp | Self::PullDown | Self::Analog | Self::Feed | Self::Reference
        )
    }
}

/// A pin.
#[derive(Debug, Clone, PartialEq)]
pub struct Pin {
    pub kind: PinKind,
    /// Resistor of an input, or what a feed draws, in ohms.
    pub ohms: Option<f64>,
    /// What a pull-up pulls to, in volts.
    pub volts: Option<f64>,
    /// A driver is on while all of these hold.
    pub when: Vec<Condition>,
    /// A driver that is on fires once in two turns of the crankshaft instead of standing.
    pub pulsed: bool,
}

/// A code.
#[derive(Debug, Clone, PartialEq)]
pub struct Code {
    pub name: String,
    pub about: String,
    /// It is set when all of these hold.
    pub when: Vec<Condition>,
    /// It stays until it is cleared.
    pub latches: bool,
}

/// The pins by number, and the codes.
#[derive(Debug, Clone, PartialEq)]
pub struct ModuleTable {
    pins: Vec<(usize, Pin)>,
    pub codes: Vec<Code>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct PinDoc {
    is: PinKind,
    ohms: Option<f64>,
    volts: Option<f64>,
    #[serde(default)]
    when: Vec<String>,
    #[serde(default)]
    pulsed: bool,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct CodeDoc {
    about: String,
    when: Vec<String>,
    #[serde(default)]
    latches: bool,
}

impl ModuleTable {
    pub(super) const EMPTY: Self = Self {
        pins: Vec::new(),
        codes: Vec::new(),
    };

    /// Reads the tables of pins and codes.
    ///
    /// # Errors
    /// The parameter that is wrong and a sentence that says what was expected.
    pub fn read(pins: Option<&Value>, codes: Option<&Value>) -> Result<Self, (String, String)> {
        let Some(pins) = pins else {
            return Ok(Self::EMPTY);
        };
        let docs: IndexMap<String, Value> = serde_json::from_value(pins.clone()).map_err(|_| {
            let text = "expected pins by number, such as {\"1\": {\"is\": \"feed\"}}";
            ("pins".to_owned(), text.to_owned())
        })?;
        let code_docs: IndexMap<String, Value> = match codes {
            None => IndexMap::new(),
            Some(value) => serde_json::from_value(value.clone()).map_err(|_| {
                let text =
                    "expected codes by name, such as {\"P1\": {\"about\": \"…\", \"when\": []}}";
                ("codes".to_owned(), text.to_owned())
            })?,
        };
        if code_docs.len() > MOST_CODES {
            let text = format!("a module keeps at most {MOST_CODES} codes");
            return Err(("codes".to_owned(), text));
        }
        let names: Vec<String> = code_docs.keys().cloned().collect();
        let number = |name: &str| NUMBERS.iter().position(|n| *n == name);
        let numbers: Vec<usize> = docs.keys().filter_map(|name| number(name)).collect();
        let conditions = |texts: &[String], at: &str| {
            let read = |text: &String| {
                Condition::read(text, &numbers, &names).map_err(|e| (format!("{at}.when"), e))
            };
            texts.iter().map(read).collect::<Result<Vec<_>, _>>()
        };
        let mut out = Self::EMPTY;
        for (name, value) in docs {
            let at = format!("pins.{name}");
            let Some(n) = number(&name) else {
                return Err((at, format!("expected a pin number from 1 to {PINS}")));
            };
            let doc: PinDoc =
                serde_json::from_value(value).map_err(|e| (at.clone(), e.to_string()))?;
            let sound = |v: Option<f64>| v.is_none_or(|v| v.is_finite() && v > 0.0 && v < 1e8);
            if !sound(doc.ohms) || !sound(doc.volts) {
                return Err((at, "expected ohms and volts above 0".to_owned()));
            }
            let when = conditions(&doc.when, &at)?;
            out.pins.push((
                n,
                Pin {
                    kind: doc.is,
                    ohms: doc.ohms,
                    volts: doc.volts,
                    when,
                    pulsed: doc.pulsed,
                },
            ));
        }
        for kind in [PinKind::Feed, PinKind::Ground] {
            if out.first(kind).is_none() {
                let text = "expected at least one pin that is feed and one that is ground";
                return Err(("pins".to_owned(), text.to_owned()));
            }
        }
        for (name, value) in code_docs {
            let at = format!("codes.{name}");
            let doc: CodeDoc =
                serde_json::from_value(value).map_err(|e| (at.clone(), e.to_string()))?;
            let when = conditions(&doc.when, &at)?;
            out.codes.push(Code {
                name,
                about: doc.about,
                when,
                latches: doc.latches,
            });
        }
        Ok(out)
    }

    /// What a pin is, by position.
    pub fn pin(&self, n: usize) -> Option<&Pin> {
        self.pins.iter().find(|(at, _)| *at == n).map(|(_, p)| p)
    }

    /// All pins by position.
    pub fn pins(&self) -> impl Iterator<Item = (usize, &Pin)> {
        self.pins.iter().map(|(n, p)| (*n, p))
    }

    /// The first pin of a kind, in the order of the table.
    pub fn first(&self, kind: PinKind) -> Option<usize> {
        self.pins
            .iter()
            .find(|(_, p)| p.kind == kind)
            .map(|(n, _)| *n)
    }
}
