//! Relays, terminals after DIN 72552 and ISO 7588: coil 86 and 85, contact 30 to 87 when pulled in,
//! and on a change-over relay 30 to 87a at rest.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Change, Look, Notice, NoticeKind, ParamSpec, Params, PartKind, PartState, Shelf, Stamp,
    Terminal, terminal,
};
use cimento_model::stamped::Role;

/// Times to pull in and to drop out, in seconds; common practice.
const PULL_IN_S: f64 = 0.010;
const DROP_OUT_S: f64 = 0.006;

const T86: usize = 0;
const T30: usize = 1;
const T85: usize = 2;
const T87: usize = 3;

const T87A: usize = 4;

/// A kind of relay.
pub(super) struct Relay {
    kind: &'static str,
    title: &'static str,
    change_over: bool,
    terminals: &'static [Terminal],
}

const MAKE_TERMINALS: [Terminal; 4] = [
    terminal("86", "back of socket, coil", true),
    terminal("30", "back of socket, contact feed", true),
    terminal("85", "back of socket, coil", false),
    terminal("87", "back of socket, contact out", false),
];

/// Make contact.
pub(super) static MAKE: Relay = Relay {
    kind: "relay",
    title: "Relay",
    change_over: false,
    terminals: &MAKE_TERMINALS,
};

/// Change-over contact.
pub(super) static CHANGE_OVER: Relay = Relay {
    kind: "changeover_relay",
    title: "Change-over relay",
    change_over: true,
    terminals: &[
        terminal("86", "back of socket, coil", true),
        terminal("30", "back of socket, contact feed", true),
        terminal("85", "back of socket, coil", false),
        terminal("87", "back of socket, contact out", false),
        Terminal {
            needed: false,
            ..terminal("87a", "back of socket, contact at rest", false)
        },
    ],
};

impl PartKind for Relay {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn shelf(&self) -> Shelf {
        Shelf::Switches
    }

    fn letters(&self) -> &'static str {
        "K"
    }

    fn terminals(&self) -> &'static [Terminal] {
        self.terminals
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("coil_ohms", "coil resistance", "Ω", (5.0, 85.0, 5000.0)),
                number(
                    "damping_ohms",
                    "resistor across the coil",
                    "Ω",
                    (50.0, 680.0, 1e6),
                ),
                number(
                    "diode",
                    "1 with a diode across the coil, cathode at 86",
                    "",
                    (0.0, 0.0, 1.0),
                ),
                number(
                    "pull_in_v",
                    "coil voltage that surely pulls in",
                    "V",
                    (1.0, 7.2, 30.0),
                ),
                number(
                    "drop_out_v",
                    "coil voltage that lets go",
                    "V",
                    (0.1, 2.0, 30.0),
                ),
                number(
                    "contact_ohms",
                    "resistance of the closed contact",
                    "Ω",
                    (0.0, 0.004, 1.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("coil_open", "coil winding open", 1.5),
                mode("contacts_open", "contact never makes", 1.5),
                graded("contacts_pitted", "contact pitted", 2.5, (0.02, 0.5, 1e5)),
                mode("contacts_welded", "contact never opens", 0.7),
            ]
        }
    }

    fn plugs_in(&self) -> bool {
        true
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("86", "85")]
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        let mut out = vec![(T30, T87)];
        if self.change_over {
            out.push((T30, T87A));
        }
        out
    }

    fn pulled_in(&self, state: &PartState) -> Option<bool> {
        Some(state.level == 1)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let coil_ohms = match s.fault("coil_open") {
            Some(_) => f64::INFINITY,
            None => s.param("coil_ohms"),
        };
        let (a, b) = (s.node(T86), s.node(T85));
        s.add("coil", Role::Load, Element::resistor(a, b, coil_ohms));
        let damping = Element::resistor(a, b, s.param("damping_ohms"));
        s.add("damping", Role::Load, damping);
        if s.param("diode") >= 0.5 {
            let diode = Element::Diode {
                a: b,
                b: a,
                saturation_a: 1e-9,
                emission: 1.8,
            };
            s.add("diode", Role::Stray, diode);
        }
        let closed = s.state.level == 1 || s.fault("contacts_welded").is_some();
        let ohms = s.contact_ohms(
            closed,
            s.param("contact_ohms"),
            "contacts_open",
            "contacts_pitted",
        );
        s.contact("contact", (T30, T87), ohms);
        if self.change_over {
            let at_rest = !closed;
            let ohms = s.contact_ohms(
                at_rest,
                s.param("contact_ohms"),
                "contacts_open",
                "contacts_pitted",
            );
            s.contact("contact at rest", (T30, T87A), ohms);
        }
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let coil_v = look.current("coil").abs() * look.param("coil_ohms");
        let (level, after_s) = match look.state.level {
            0 if coil_v >= look.param("pull_in_v") => (1, PULL_IN_S),
            1 if coil_v < look.param("drop_out_v") => (0, DROP_OUT_S),
            _ => return None,
        };
        Some(Change {
            after_s,
            level,
            wear_per_s: 0.0,
        })
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let pulled = looks.iter().filter(|l| l.state.level == 1).count();
        let part = &looks.first()?.part;
        let (text, sign) = match pulled {
            0 => return None,
            n if n == looks.len() => ("clicks", "click"),
            _ => ("chatters", "chatter"),
        };
        Some(Notice {
            kind: NoticeKind::Sound,
            part: part.id.clone(),
            text: format!("{} {text}", part.called()),
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}
