//! Filament lamp: cold resistance about a tenth of the hot one (common practice).

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Look, Notice, NoticeKind, ParamSpec, Params, PartKind, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

/// Hot over cold resistance; common practice.
const HOT_OVER_COLD: f64 = 10.0;
/// Shares of the rated power from which a lamp is seen as bright, and as lit at all.
const BRIGHT: f64 = 0.5;
const DIM: f64 = 0.05;

/// A kind of lamp.
pub(super) struct Lamp {
    kind: &'static str,
    title: &'static str,
    params: &'static [ParamSpec],
}

const fn params(watts: f64) -> [ParamSpec; 2] {
    [
        number("rated_v", "rated voltage", "V", (1.0, 12.0, 30.0)),
        number("rated_w", "rated power", "W", (0.1, watts, 200.0)),
    ]
}

/// Any filament lamp.
pub(super) static LAMP: Lamp = Lamp {
    kind: "lamp",
    title: "Lamp",
    params: &params(3.0),
};

/// A warning lamp on the dash, about 2 W (common practice).
pub(super) static WARNING_LAMP: Lamp = Lamp {
    kind: "warning_lamp",
    title: "Warning lamp",
    params: &params(2.0),
};

impl PartKind for Lamp {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn letters(&self) -> &'static str {
        "H"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of holder, feed", true),
                terminal("2", "back of holder, return", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        self.params
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const { &[mode("burnt_out", "filament broken", 3.0).seen("the filament is broken")] }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} W", params.number("rated_w"))
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (rated_v, rated_w) = (s.param("rated_v"), s.param("rated_w"));
        let hot_ohms = rated_v * rated_v / rated_w;
        let inside = s.internal();
        let lead = match s.fault("burnt_out") {
            Some(_) => f64::INFINITY,
            None => 0.0,
        };
        s.add(
            "lead",
            Role::Contact,
            Element::resistor(s.node(0), inside, lead),
        );
        let element = Element::Filament {
            a: inside,
            b: s.node(1),
            rated_v,
            hot_ohms,
            cold_ohms: hot_ohms / HOT_OVER_COLD,
        };
        s.add("filament", Role::Load, element);
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let part = &looks.first()?.part;
        let shares: Vec<f64> = looks
            .iter()
            .map(|l| (l.voltage(0, 1) * l.current("filament")).abs() / l.param("rated_w"))
            .collect();
        let seen = |s: &f64| {
            if *s >= BRIGHT {
                "bright"
            } else if *s >= DIM {
                "dim"
            } else {
                "dark"
            }
        };
        let first = seen(&shares[0]);
        let sign = if shares.iter().all(|s| seen(s) == first) {
            first
        } else {
            "flickers"
        };
        Some(Notice {
            kind: NoticeKind::Light,
            part: part.id.clone(),
            text: format!("{} {sign}", part.called()),
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}
