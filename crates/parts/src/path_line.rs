//! A current path in one line, as one would say it over the machine:
//!
//! ```text
//! BAT(battery).+ > 2.5 RD 0.5 > F1(fuse 15).1-2 > 2.5 RD 0.8 > K1(relay).30-87 > 2.5 BU > H1(horn).1-2 > 2.5 BN > G1(body)
//! ```
//!
//! Stops and wires take turns. A stop is a terminal (`K3.86`), a part passed from one terminal to
//! another (`F1.1-2`), a connector's cavity passed from its male to its female side or back
//! (`C12.4mf`, `C12.4fm`; `C12.4` is the first), one side of it (`C12.4m`), a splice (`SP3`), a ground
//! (`G1`) or a metal (`metal:body`). What metal joins is said with a stroke: `M1.31/G1` enters the
//! starter and leaves at the lug on the same engine. In brackets after a new id stands what it is: a kind of part, with
//! its rating for a fuse, or the metal of a ground. Splices and connectors come into being by their
//! names.
//!
//! A wire is its area in mm² (or `18awg`, or `carbon`, `wire_wound` or `copper` for a high-voltage lead), its
//! colour and its length in metres, in this order, then `@harness`; `strap` stands before a braid. An id may go before: `W8: 1 VT/WH 0.9 @engine`. Any of
//! it may be left out, down to `>` and `>` with nothing between: ids are then numbered on.
//!
//! `into W8 > C9.1` puts a connector, a fuse, a switch or a splice into a wire that is there, half-way along
//! it; `into W8 0.3 > F7(fuse 10).1-2` so many metres from its beginning.

use crate::{kind, kinds};
use cimento_model::circuit::Circuit;
use cimento_model::circuit::{
    CircuitDoc, ConnectorDoc, CurrentPath, GroundDoc, LeadKind, PartDoc, SpliceDoc, WireDoc,
};
use cimento_model::units::Colour;

/// What is wrong with a line, and with which word.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("word {word}, “{text}”: {message}")]
pub struct PathLineError {
    /// Which word, from 1.
    pub word: usize,
    /// Where it begins in the line, in characters.
    pub at: usize,
    pub text: String,
    pub message: String,
}

/// A word of the line with where it stands.
#[derive(Clone, Copy)]
struct Word<'t> {
    no: usize,
    at: usize,
    text: &'t str,
}

impl Word<'_> {
    fn wrong<T>(self, message: impl Into<String>) -> Result<T, PathLineError> {
        Err(PathLineError {
            word: self.no,
            at: self.at,
            text: self.text.to_owned(),
            message: message.into(),
        })
    }
}

/// The words of a line; what stands in brackets is one word.
fn words(line: &str) -> Vec<Word<'_>> {
    let mut out: Vec<Word<'_>> = Vec::new();
    let (mut begin, mut deep) = (None, false);
    let chars: Vec<(usize, char)> = line.char_indices().chain([(line.len(), ' ')]).collect();
    for (n, &(byte, c)) in chars.iter().enumerate() {
        deep = (deep || c == '(') && c != ')';
        let cuts = !deep && (c.is_whitespace() || c == '>') || byte == line.len();
        if cuts {
            if let Some((from, at)) = begin.take() {
                out.push(Word {
                    no: out.len() + 1,
                    at,
                    text: &line[from..byte],
                });
            }
            if c == '>' {
                out.push(Word {
                    no: out.len() + 1,
                    at: n,
                    text: ">",
                });
            }
        } else if begin.is_none() {
            begin = Some((byte, n));
        }
    }
    out
}

/// Writes a path into a circuit: its wires, and the things it names that are new.
///
/// # Errors
/// [`PathLineError`] names the first word that is wrong; the circuit is as it was.
pub fn say_path(doc: &CircuitDoc, line: &str) -> Result<CircuitDoc, PathLineError> {
    let all = words(line);
    let mut out = doc.clone();
    let fields: Vec<&[Word<'_>]> = all.split(|w| w.text == ">").collect();
    let last = *all.last().unwrap_or(&Word {
        no: 1,
        at: 0,
        text: "",
    });
    if let [Word { text: "into", .. }, where_to @ ..] = fields[0] {
        return insert(out, where_to, fields.get(1).copied(), last);
    }
    if fields.len() < 3 || fields.len().is_multiple_of(2) {
        return last.wrong("expected stop > wire > stop, such as F2.2 > 1 RD 0.4 > S1.30");
    }
    let mut left: Option<String> = None;
    for (n, field) in fields.iter().enumerate().step_by(2) {
        let [stop] = field else {
            let at = field.get(1).copied().unwrap_or(last);
            return at.wrong("expected one stop here, such as K3.86, C12.4 or G1");
        };
        let (enter, leave) = read_joined(&mut out, *stop)?;
        if let Some(from) = left.take() {
            let wire = read_wire(&out, fields[n - 1], from, enter)?;
            out.wires.push(wire);
        }
        left = Some(leave);
    }
    Ok(out)
}

/// Puts something into a wire: the wire ends there, and another like it goes on to where it led.
fn insert(
    mut doc: CircuitDoc,
    where_to: &[Word<'_>],
    stop: Option<&[Word<'_>]>,
    last: Word<'_>,
) -> Result<CircuitDoc, PathLineError> {
    let (Some(id), Some([stop])) = (where_to.first(), stop) else {
        return last.wrong("expected into, a wire, > and what goes there, such as into W8 > C9.1");
    };
    let Some(at) = doc.wires.iter().position(|w| w.id == id.text) else {
        return id.wrong(format!("there is no wire {}", id.text));
    };
    let whole = doc.wires[at].length_m;
    let share = match (where_to.get(1), whole) {
        (None, _) => 0.5,
        (Some(word), None) => return word.wrong(format!("{} has no length", id.text)),
        (Some(word), Some(whole)) => match word.text.parse::<f64>() {
            Ok(metres) if metres > 0.0 && metres < whole => metres / whole,
            _ => return word.wrong(format!("expected metres along the wire, under {whole}")),
        },
    };
    let (enter, leave) = read_joined(&mut doc, *stop)?;
    if enter == leave && !doc.splices.contains_key(&enter) {
        return stop
            .wrong("expected what a wire passes through, such as C9.1, F7(fuse 10).1-2 or SP4");
    }
    let mut rest = read_wire(&doc, &[], leave, doc.wires[at].to.clone())?;
    let wire = &mut doc.wires[at];
    wire.to = enter;
    rest.area_mm2 = wire.area_mm2;
    rest.awg = wire.awg;
    rest.ignition_lead = wire.ignition_lead;
    rest.color.clone_from(&wire.color);
    rest.harness.clone_from(&wire.harness);
    for (part, own) in [(share, &mut *wire), (1.0 - share, &mut rest)] {
        own.length_m = whole.map(|m| m * part);
    }
    if let Some(ohms) = wire.ohms {
        wire.ohms = Some(ohms * share);
        rest.ohms = Some(ohms * (1.0 - share));
    }
    doc.wires.insert(at + 1, rest);
    Ok(doc)
}

/// Stops that metal joins: entered by the first and left by the last.
fn read_joined(doc: &mut CircuitDoc, stop: Word<'_>) -> Result<(String, String), PathLineError> {
    let mut ends: Option<(String, String)> = None;
    for text in stop.text.split('/') {
        let (enter, leave) = read_stop(doc, Word { text, ..stop })?;
        ends = Some(match ends {
            Some((first, _)) => (first, leave),
            None => (enter, leave),
        });
    }
    seat(doc, stop.text);
    ends.map_or_else(|| stop.wrong("expected a stop"), Ok)
}

/// A part whose case is joined to a ground by metal sits on that metal, unless it is said to sit elsewhere.
fn seat(doc: &mut CircuitDoc, joined: &str) {
    let name = |text: &str| text.split(['(', '.']).next().unwrap_or_default().to_owned();
    let metal = joined
        .split('/')
        .find_map(|text| match text.strip_prefix("metal:") {
            Some(metal) => Some(metal.to_owned()),
            None => Some(doc.grounds.get(&name(text))?.metal.clone()),
        });
    for text in joined.split('/') {
        let Some(part) = doc.parts.get_mut(&name(text)) else {
            continue;
        };
        let terminals = kind(&part.kind).map_or(&[][..], |k| k.terminals());
        let case = terminals.iter().find(|t| t.is_case);
        let by_its_case = case.is_some_and(|t| text.rsplit('.').next() == Some(t.name));
        if by_its_case && part.mount.is_none() {
            part.mount.clone_from(&metal);
        }
    }
}

/// The terminals that a stop is entered and left by, with what is new put into the circuit.
fn read_stop(doc: &mut CircuitDoc, stop: Word<'_>) -> Result<(String, String), PathLineError> {
    let (head, rest) = match stop.text.find(['(', '.']) {
        Some(at) => stop.text.split_at(at),
        None => (stop.text, ""),
    };
    let (what, rest) = match rest.strip_prefix('(').and_then(|r| r.split_once(')')) {
        Some((what, rest)) => (Some(what.trim()), rest),
        None => (None, rest),
    };
    let terminal = rest.strip_prefix('.');
    if head.is_empty() {
        return stop.wrong("expected a name, such as K3.86, C12.4 or G1");
    }
    let known = doc.parts.contains_key(head)
        || doc.connectors.contains_key(head)
        || doc.splices.contains_key(head)
        || doc.grounds.contains_key(head);
    if known && what.is_some() {
        return stop.wrong(format!("{head} is there already: leave the brackets out"));
    }
    if head.starts_with("metal:") {
        return Ok((head.to_owned(), head.to_owned()));
    }
    if !known {
        declare(doc, stop, head, what, terminal)?;
    }
    if doc.splices.contains_key(head) || doc.grounds.contains_key(head) {
        return match terminal {
            None => Ok((head.to_owned(), head.to_owned())),
            Some(_) => stop.wrong(format!("{head} has no terminals: expected {head} alone")),
        };
    }
    let Some(terminal) = terminal else {
        return stop.wrong(format!("expected a terminal of {head}, such as {head}.1"));
    };
    if doc.connectors.contains_key(head) {
        cavity(doc, stop, head, terminal)
    } else {
        through(doc, stop, head, terminal)
    }
}

/// Puts something new into the circuit.
fn declare(
    doc: &mut CircuitDoc,
    stop: Word<'_>,
    head: &str,
    what: Option<&str>,
    terminal: Option<&str>,
) -> Result<(), PathLineError> {
    let numbered = |prefix: &str| {
        let digits = head.strip_prefix(prefix);
        digits.is_some_and(|d| !d.is_empty() && d.chars().all(|c| c.is_ascii_digit()))
    };
    match (what, terminal) {
        (None, None) if numbered("SP") => {
            doc.splices.insert(head.to_owned(), SpliceDoc::default());
        }
        (None, Some(_)) if numbered("C") => {
            doc.connectors.insert(
                head.to_owned(),
                ConnectorDoc {
                    cavities: 1,
                    place: None,
                    reach_minutes: None,
                    contact_ohms: None,
                    spare: Vec::new(),
                },
            );
        }
        (Some(metal), None) => {
            doc.grounds.insert(
                head.to_owned(),
                GroundDoc {
                    metal: metal.to_owned(),
                    place: None,
                    reach_minutes: None,
                    contact_ohms: None,
                },
            );
        }
        (Some(what), Some(_)) => {
            let (name, rating) = match what.rsplit_once(' ') {
                Some((name, rating)) => (name, Some(rating)),
                None => (what, None),
            };
            let Some(kind) = kind(name) else {
                return stop.wrong(format!("“{name}” is no kind of part: expected {}", kinds()));
            };
            let mut part = PartDoc {
                kind: name.to_owned(),
                ..PartDoc::default()
            };
            if let Some(rating) = rating {
                let Some(amps) = rating
                    .parse()
                    .ok()
                    .filter(|a: &f64| kind.is_fuse() && *a > 0.0)
                else {
                    return stop.wrong("expected a rating in amperes, for a fuse: (fuse 15)");
                };
                part.params.insert("rating_a".to_owned(), amps.into());
            }
            doc.parts.insert(head.to_owned(), part);
        }
        (None, _) => {
            return stop.wrong(format!(
                "there is no {head}: say what it is, such as {head}(relay).30-87 or {head}(body)"
            ));
        }
    }
    Ok(())
}

/// `4`, `4mf`, `4fm`, `4m` or `4f` of a connector, which grows as far as needed.
fn cavity(
    doc: &mut CircuitDoc,
    stop: Word<'_>,
    head: &str,
    terminal: &str,
) -> Result<(String, String), PathLineError> {
    let digits = terminal.trim_end_matches(['m', 'f']);
    let sides = &terminal[digits.len()..];
    let number: u32 = match digits.parse() {
        Ok(n) if (1..=100).contains(&n) => n,
        _ => return stop.wrong(format!("expected a cavity, such as {head}.4")),
    };
    let side = |s: char| format!("{head}.{number}{s}");
    let both = match sides {
        "" | "mf" => (side('m'), side('f')),
        "fm" => (side('f'), side('m')),
        "m" => (side('m'), side('m')),
        "f" => (side('f'), side('f')),
        _ => return stop.wrong(format!("expected {head}.{number}, …mf, …fm, …m or …f")),
    };
    if let Some(connector) = doc.connectors.get_mut(head) {
        connector.cavities = connector.cavities.max(number);
    }
    Ok(both)
}

/// `86` or `30-87` of a part.
fn through(
    doc: &CircuitDoc,
    stop: Word<'_>,
    head: &str,
    terminal: &str,
) -> Result<(String, String), PathLineError> {
    let Some(kind) = doc.parts.get(head).and_then(|p| kind(&p.kind)) else {
        return stop.wrong(format!("{head} is of no known kind"));
    };
    let names: Vec<&str> = kind.terminals().iter().map(|t| t.name).collect();
    let own = |name: &str| names.contains(&name);
    let (enter, leave) = match terminal.split_once('-') {
        // A battery's negative is called “-”.
        Some((enter, leave)) if !own(terminal) && own(enter) => (enter, leave),
        _ => (terminal, terminal),
    };
    for name in [enter, leave] {
        if !own(name) {
            return stop.wrong(format!(
                "{head} has no terminal {name}: expected {}",
                names.join(", ")
            ));
        }
    }
    Ok((format!("{head}.{enter}"), format!("{head}.{leave}")))
}

fn read_wire(
    doc: &CircuitDoc,
    field: &[Word<'_>],
    from: String,
    to: String,
) -> Result<WireDoc, PathLineError> {
    let mut wire = WireDoc {
        id: String::new(),
        from,
        to,
        area_mm2: None,
        awg: None,
        length_m: None,
        ignition_lead: None,
        ohms: None,
        color: None,
        harness: None,
        capped: Vec::new(),
    };
    for word in field {
        let text = word.text;
        if let Some(id) = text.strip_suffix(':') {
            if doc.wires.iter().any(|w| w.id == id) {
                return word.wrong("there is a wire with this id already");
            }
            id.clone_into(&mut wire.id);
        } else if let Some(harness) = text.strip_prefix('@') {
            wire.harness = Some(harness.replace('_', " "));
        } else if let Some(lead) = LeadKind::ALL.into_iter().find(|l| l.name() == text) {
            wire.ignition_lead = Some(lead);
        } else if text == "strap" {
            wire.harness.get_or_insert_with(|| "strap".to_owned());
        } else if let Some(awg) = text.strip_suffix("awg") {
            match awg.parse() {
                Ok(n) if (-3..=30).contains(&n) => wire.awg = Some(n),
                _ => return word.wrong("expected a gauge such as 18awg"),
            }
        } else if let Ok(number) = text.parse::<f64>() {
            if !(number > 0.0 && number.is_finite()) {
                return word.wrong("expected a number above 0");
            }
            if wire.area_mm2.is_none() && wire.awg.is_none() && wire.ignition_lead.is_none() {
                wire.area_mm2 = Some(number);
            } else if wire.length_m.is_none() {
                wire.length_m = Some(number);
            } else {
                return word.wrong("the wire has its area and its length already");
            }
        } else {
            match Colour::try_from(text.to_owned()) {
                Ok(colour) => wire.color = Some(colour),
                Err(e) => {
                    return word.wrong(format!(
                        "expected an area in mm², a kind of lead, a colour, a length in m or @harness; {e}"
                    ));
                }
            }
        }
    }
    if wire.id.is_empty() {
        let number = |w: &WireDoc| w.id.strip_prefix('W').and_then(|n| n.parse::<u32>().ok());
        let next = doc.wires.iter().filter_map(number).max().unwrap_or(0) + 1;
        wire.id = format!("W{next}");
    }
    Ok(wire)
}

/// A current path in the form that [`say_path`] reads, from the battery's post on. What is there
/// already is written without brackets.
pub fn path_line(circuit: &Circuit, path: &CurrentPath) -> String {
    let stops = &path.stops;
    let mut out: Vec<String> = Vec::new();
    // Where the stop that is being written was entered, and where the path is now.
    let mut enter = stops.first().map_or(String::new(), |s| s.point.clone());
    let mut here = enter.clone();
    for stop in stops.iter().skip(1) {
        let through = stop.through.as_deref().unwrap_or_default();
        if let Some(wire) = circuit.doc.wires.iter().find(|w| w.id == through) {
            let (from, to) = match wire.to == here || circuit.node(&wire.to) == circuit.node(&here)
            {
                true => (&wire.to, &wire.from),
                false => (&wire.from, &wire.to),
            };
            out.push(stop_text(&enter, from));
            out.push(wire_text(wire));
            enter.clone_from(to);
            here.clone_from(to);
        } else {
            here.clone_from(&stop.point);
        }
    }
    out.push(stop_text(&enter, &here));
    out.join(" > ")
}

/// A stop that is entered at one terminal and left at another.
fn stop_text(enter: &str, leave: &str) -> String {
    if enter == leave {
        return enter.to_owned();
    }
    let both = (enter.split_once('.'), leave.split_once('.'));
    let (Some((a, x)), Some((b, y))) = both else {
        return format!("{enter}/{leave}");
    };
    if a != b {
        return format!("{enter}/{leave}");
    }
    match (x.strip_suffix('m'), y.strip_suffix('f')) {
        (Some(n), Some(m)) if n == m => return format!("{a}.{n}mf"),
        _ => {}
    }
    match (x.strip_suffix('f'), y.strip_suffix('m')) {
        (Some(n), Some(m)) if n == m => format!("{a}.{n}fm"),
        _ => format!("{a}.{x}-{y}"),
    }
}

fn wire_text(wire: &WireDoc) -> String {
    let mut words = vec![format!("{}:", wire.id)];
    words.extend(wire.area_mm2.map(|a| a.to_string()));
    words.extend(wire.awg.map(|a| format!("{a}awg")));
    words.extend(wire.ignition_lead.map(|l| l.name().to_owned()));
    words.extend(wire.color.clone().map(String::from));
    words.extend(wire.length_m.map(|l| l.to_string()));
    words.extend(
        wire.harness
            .as_ref()
            .map(|h| format!("@{}", h.replace(' ', "_"))),
    );
    words.join(" ")
}
