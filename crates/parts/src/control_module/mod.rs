//! Control module: feeds, grounds, a 5 V reference, inputs and drivers on numbered pins, as its table
//! says. It works while its main feed holds it up; its drivers follow conditions on its inputs; its
//! codes are set by conditions too, and what a code takes away stays away until the code is cleared
//! and the key has been cycled.

mod condition;
mod pins;

use std::sync::Arc;

use cimento_solver::{Element, Node};
use serde_json::{Map, Value};

pub use pins::ModuleTable;
use pins::{Pin, PinKind};

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::{
    Alternation, Change, Context, Look, Module, Notice, NoticeKind, ParamKind, ParamSpec, Params,
    PartKind, Shelf, Stamp, Table, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// How many pins a module can have.
const PINS: usize = 24;

/// Main feed from which a module wakes, and below which it falls asleep, in volts; common practice.
const WAKES_V: f64 = 6.5;
const SLEEPS_V: f64 = 5.5;
/// Time to wake, and time from an input to a driver, in seconds; common practice.
const WAKES_S: f64 = 0.15;
const ANSWERS_S: f64 = 0.02;
/// Resistance of a pin's bond, of a driver that is on, of an input, in ohms; common practice.
const BOND_OHMS: f64 = 0.005;
const DRIVER_OHMS: f64 = 0.15;
const INPUT_OHMS: f64 = 1e6;
/// What the module draws by itself, as a resistance, in ohms; common practice.
const OWN_OHMS: f64 = 100.0;
/// Reference: volts, stiffness, and the current at which it gives up; common practice.
const REFERENCE_V: f64 = 5.0;
const REFERENCE_OHMS: f64 = 0.05;
const REFERENCE_MOST_A: f64 = 0.1;

/// Share of the time in which a pulsed driver is on; common practice for injection at light load.
const PULSE_SHARE: f64 = 0.1;

macro_rules! per_pin {
    ($prefix:literal) => {
        [
            concat!($prefix, "1"),
            concat!($prefix, "2"),
            concat!($prefix, "3"),
            concat!($prefix, "4"),
            concat!($prefix, "5"),
            concat!($prefix, "6"),
            concat!($prefix, "7"),
            concat!($prefix, "8"),
            concat!($prefix, "9"),
            concat!($prefix, "10"),
            concat!($prefix, "11"),
            concat!($prefix, "12"),
            concat!($prefix, "13"),
            concat!($prefix, "14"),
            concat!($prefix, "15"),
            concat!($prefix, "16"),
            concat!($prefix, "17"),
            concat!($prefix, "18"),
            concat!($prefix, "19"),
            concat!($prefix, "20"),
            concat!($prefix, "21"),
            concat!($prefix, "22"),
            concat!($prefix, "23"),
            concat!($prefix, "24"),
        ]
    };
}

/// Names of pins and of the elements behind each.
const NUMBERS: [&str; PINS] = per_pin!("");
const BONDS: [&str; PINS] = per_pin!("bond ");
const SENSES: [&str; PINS] = per_pin!("sense ");
const WORKS: [&str; PINS] = per_pin!("works ");

static TERMINALS: [Terminal; PINS] = {
    let mut out = [const {
        Terminal {
            needed: false,
            ..terminal("", "back of pin", true)
        }
    }; PINS];
    let mut n = 0;
    while n < PINS {
        out[n].name = NUMBERS[n];
        n += 1;
    }
    out
};

static OUTPUT_MODES: [ModeSpec; 2] = [
    mode("driver_open", "driver never conducts", 1.0),
    mode("driver_shorted", "driver conducts for ever", 0.7),
];
static INPUT_MODES: [ModeSpec; 1] = [mode("input_dead", "input sees nothing", 0.5)];
static REFERENCE_MODES: [ModeSpec; 1] = [mode("reference_dead", "reference gives nothing", 0.5)];
static BOND_MODES: [ModeSpec; 1] = [mode("bond_open", "bond broken inside", 0.4)];

/// Bits of a module's level: awake; then codes; then what codes have taken away; then two bits for
/// each pin (a driver is on, a reference has given up or is lifted).
const AWAKE: u64 = 1;
const CODES_AT: usize = 1;
const TAKEN_AT: usize = 8;
const PINS_AT: usize = 15;
/// As many codes as there are bits for.
const MOST_CODES: usize = TAKEN_AT - CODES_AT;

fn on_bit(pin: usize) -> u64 {
    1 << (PINS_AT + 2 * pin)
}

fn lifted_bit(pin: usize) -> u64 {
    2 << (PINS_AT + 2 * pin)
}

fn read_table(given: &Map<String, Value>) -> Result<Arc<dyn Table>, (String, String)> {
    Ok(Arc::new(ModuleTable::read(
        given.get("pins"),
        given.get("codes"),
    )?))
}

/// The kind of part.
pub struct ControlModule;

impl ControlModule {
    fn table(part: &cimento_model::circuit::Part) -> &ModuleTable {
        static EMPTY: ModuleTable = ModuleTable::EMPTY;
        part.params.table::<ModuleTable>().unwrap_or(&EMPTY)
    }
}

impl PartKind for ControlModule {
    fn kind(&self) -> &'static str {
        "control_module"
    }

    fn title(&self) -> &'static str {
        "Control module"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Modules
    }

    fn letters(&self) -> &'static str {
        "U"
    }

    fn terminals(&self) -> &'static [Terminal] {
        &TERMINALS
    }

    fn has_terminal(&self, params: &Params, terminal: usize) -> bool {
        let table = params.table::<ModuleTable>();
        table.is_some_and(|t| t.pin(terminal).is_some())
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                ParamSpec {
                    name: "pins",
                    about: "what each pin is",
                    kind: ParamKind::Table(read_table),
                },
                ParamSpec {
                    name: "codes",
                    about: "codes and what sets them",
                    kind: ParamKind::InTable,
                },
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const { &[mode("dead", "dead inside", 0.5)] }
    }

    fn pin_modes(&self, params: &Params, terminal: usize) -> &'static [ModeSpec] {
        let pin = params.table::<ModuleTable>().and_then(|t| t.pin(terminal));
        match pin.map(|p| p.kind) {
            None => &[],
            Some(PinKind::LowSide | PinKind::HighSide) => &OUTPUT_MODES,
            Some(PinKind::Reference) => &REFERENCE_MODES,
            Some(PinKind::Feed | PinKind::Ground | PinKind::LowReference) => &BOND_MODES,
            Some(_) => &INPUT_MODES,
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[]
    }

    fn own_load(&self, params: &Params) -> Option<(usize, usize)> {
        let table = params.table::<ModuleTable>()?;
        Some((table.first(PinKind::Feed)?, table.first(PinKind::Ground)?))
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        let fires = |(n, pin): (usize, &Pin)| pin.pulsed && c.state.level & on_bit(n) != 0;
        Self::table(c.part)
            .pins()
            .any(fires)
            .then_some(Alternation {
                hz: c.rpm / 120.0,
                share: PULSE_SHARE,
            })
    }

    fn contacts(&self, params: &Params) -> Vec<(usize, usize)> {
        let Some(table) = params.table::<ModuleTable>() else {
            return Vec::new();
        };
        let ends = (table.first(PinKind::Feed), table.first(PinKind::Ground));
        let (Some(feed), Some(ground)) = ends else {
            return Vec::new();
        };
        let pins = table.pins().filter(|(n, _)| *n != feed && *n != ground);
        let pair = |(n, pin): (usize, &Pin)| match pin.kind {
            PinKind::HighSide | PinKind::Reference | PinKind::PullUp => Some((feed, n)),
            PinKind::LowSide | PinKind::LowReference | PinKind::Ground => Some((n, ground)),
            _ => None,
        };
        pins.filter_map(pair).collect()
    }

    fn module(&self) -> Option<&dyn Module> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let table = Self::table(s.part);
        let awake = s.state.level & AWAKE != 0;
        let ground = s.internal();
        let main = s.internal();
        for (n, pin) in table.pins() {
            let outside = s.node(n);
            let bond = ["bond_open", "input_dead", "reference_dead", "driver_open"]
                .iter()
                .any(|m| s.pin_fault(n, m));
            let bond = if bond { f64::INFINITY } else { BOND_OHMS };
            match pin.kind {
                PinKind::Ground | PinKind::LowReference => {
                    s.add(
                        BONDS[n],
                        Role::Contact,
                        Element::resistor(outside, ground, bond),
                    );
                    continue;
                }
                PinKind::Feed if table.first(PinKind::Feed) == Some(n) => {
                    s.add(
                        BONDS[n],
                        Role::Contact,
                        Element::resistor(outside, main, bond),
                    );
                    let own = if s.fault("dead").is_some() {
                        f64::INFINITY
                    } else {
                        pin.ohms.unwrap_or(OWN_OHMS)
                    };
                    s.add(WORKS[n], Role::Load, Element::resistor(main, ground, own));
                    let sense = Element::resistor(main, ground, INPUT_OHMS);
                    s.add(SENSES[n], Role::Load, sense);
                    continue;
                }
                _ => {}
            }
            let inside = s.internal();
            s.add(
                BONDS[n],
                Role::Contact,
                Element::resistor(outside, inside, bond),
            );
            let works = behind(s, n, pin, (inside, main, ground), awake);
            s.add(WORKS[n], Role::Load, works);
            if pin.kind.is_input() {
                let sense = Element::resistor(inside, ground, INPUT_OHMS);
                s.add(SENSES[n], Role::Load, sense);
            }
        }
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let table = Self::table(look.part);
        let main = table.first(PinKind::Feed)?;
        let level = look.state.level;
        let awake = level & AWAKE != 0;
        let volts = look.across(SENSES[main]);
        let held_up = volts >= if awake { SLEEPS_V } else { WAKES_V };
        if !held_up || look.fault("dead").is_some() {
            // Asleep, it drives nothing; codes stay, and what they took comes back if they are gone.
            let codes = level & (((1 << MOST_CODES) - 1) << CODES_AT);
            let taken = codes << (TAKEN_AT - CODES_AT) & level;
            let asleep = codes | taken;
            return (asleep != level).then(|| Change::to(asleep, ANSWERS_S));
        }
        if !awake {
            return Some(Change::to(level | AWAKE, WAKES_S));
        }
        let mut next = level;
        let sees = |pin: usize| look.across(SENSES[pin]);
        for (n, code) in table.codes.iter().enumerate() {
            let (set, taken) = (1u64 << (CODES_AT + n), 1u64 << (TAKEN_AT + n));
            if code.when.iter().all(|c| c.holds(look, &sees)) {
                next |= set | taken;
            } else if !code.latches {
                next &= !(set | taken);
            }
        }
        for (n, pin) in table.pins() {
            match pin.kind {
                PinKind::LowSide | PinKind::HighSide => {
                    let on = pin.when.iter().all(|c| c.holds(look, &sees));
                    next = if on {
                        next | on_bit(n)
                    } else {
                        next & !on_bit(n)
                    };
                }
                PinKind::Reference => {
                    let (limited, lifted) = (on_bit(n), lifted_bit(n));
                    let amps = look.current(WORKS[n]);
                    let out = look.across(SENSES[n]);
                    if level & (limited | lifted) == 0 {
                        if amps > REFERENCE_MOST_A {
                            next |= limited;
                        } else if amps < -1e-6 {
                            next |= lifted;
                        }
                    } else if level & limited != 0 && out > REFERENCE_V {
                        next &= !limited;
                    } else if level & lifted != 0 && out < REFERENCE_V - 0.01 {
                        next &= !lifted;
                    }
                }
                _ => {}
            }
        }
        (next != level).then(|| Change::to(next, ANSWERS_S))
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let last = looks.last()?;
        let (text, sign) = match self.codes(last) {
            None => ("does not answer the scan tool".to_owned(), "silent"),
            Some(codes) if codes.is_empty() => return None,
            Some(codes) => (format!("has set {}", codes.join(", ")), "codes"),
        };
        Some(Notice {
            kind: NoticeKind::Light,
            part: last.part.id.clone(),
            text: format!("{} {text}", last.part.called()),
            sign: sign.to_owned(),
            hidden: true,
        })
    }
}

impl Module for ControlModule {
    fn codes(&self, look: &Look<'_>) -> Option<Vec<String>> {
        if look.state.level & AWAKE == 0 {
            return None;
        }
        let table = Self::table(look.part);
        let set = |n: &usize| look.state.level >> (CODES_AT + n) & 1 == 1;
        let text = |n: usize| {
            let code = &table.codes[n];
            format!("{} {}", code.name, code.about)
        };
        Some((0..table.codes.len()).filter(set).map(text).collect())
    }

    fn is_input(&self, look: &Look<'_>, pin: usize) -> bool {
        Self::table(look.part)
            .pin(pin)
            .is_some_and(|p| p.kind.is_input())
    }

    fn live(&self, look: &Look<'_>, pin: usize) -> Option<f64> {
        if look.state.level & AWAKE == 0 || !Self::table(look.part).pin(pin)?.kind.is_input() {
            return None;
        }
        Some(look.across(SENSES[pin]))
    }

    fn cleared(&self, level: u64) -> u64 {
        let codes = ((1 << MOST_CODES) - 1) << CODES_AT;
        level & !codes
    }
}

/// What lies behind a pin's bond.
fn behind(
    s: &Stamp<'_>,
    n: usize,
    pin: &Pin,
    (inside, main, ground): (Node, Node, Node),
    awake: bool,
) -> Element {
    let driver = |a: Node, b: Node| {
        let fires = !pin.pulsed || s.rpm <= 0.0 || s.up();
        let on =
            (awake && fires && s.state.level & on_bit(n) != 0) || s.pin_fault(n, "driver_shorted");
        Element::resistor(a, b, if on { DRIVER_OHMS } else { f64::INFINITY })
    };
    let fed = |volts: f64, ohms: f64, amps: f64| Element::Regulator {
        a: main,
        b: inside,
        plus: inside,
        minus: ground,
        volts,
        ohms,
        amps,
    };
    match pin.kind {
        PinKind::LowSide => driver(inside, ground),
        PinKind::HighSide => driver(main, inside),
        PinKind::Reference => {
            let limited = s.state.level & on_bit(n) != 0;
            let lifted = s.state.level & lifted_bit(n) != 0;
            match (awake, limited, lifted) {
                (false, ..) | (_, _, true) => fed(REFERENCE_V, f64::INFINITY, 0.0),
                (_, true, _) => fed(REFERENCE_V, f64::INFINITY, REFERENCE_MOST_A),
                _ => fed(REFERENCE_V, REFERENCE_OHMS, 0.0),
            }
        }
        PinKind::PullUp => {
            let volts = pin.volts.unwrap_or(REFERENCE_V);
            let ohms = pin.ohms.unwrap_or(2200.0);
            match (awake, volts > REFERENCE_V) {
                // A pull-up to the feed is a resistor to it.
                (true, true) => Element::resistor(main, inside, ohms),
                (false, true) => Element::open(main, inside),
                (true, false) => fed(volts, ohms, 0.0),
                (false, false) => fed(volts, f64::INFINITY, 0.0),
            }
        }
        PinKind::PullDown => Element::resistor(inside, ground, pin.ohms.unwrap_or(10_000.0)),
        PinKind::Feed => Element::resistor(inside, ground, pin.ohms.unwrap_or(1000.0)),
        PinKind::Analog | PinKind::Ground | PinKind::LowReference => {
            Element::resistor(inside, ground, INPUT_OHMS)
        }
    }
}
