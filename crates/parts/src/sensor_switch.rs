//! Switches worked by the machine itself, grounded through their body: oil pressure, closed until the
//! engine builds pressure; temperature, closed above its limit.

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{ParamSpec, Params, PartKind, Shelf, Stamp, Terminal, terminal};

/// Engine speed that builds oil pressure, in revolutions per minute; common practice.
const PRESSURE_RPM: f64 = 400.0;

/// A kind of switch.
pub(super) struct SensorSwitch {
    kind: &'static str,
    title: &'static str,
    pressure: bool,
    params: &'static [ParamSpec],
}

const CONTACT: ParamSpec = number(
    "contact_ohms",
    "resistance of the closed contact",
    "Ω",
    (0.0, 0.05, 10.0),
);

/// Oil pressure switch.
pub(super) static OIL_PRESSURE: SensorSwitch = SensorSwitch {
    kind: "oil_pressure_switch",
    title: "Oil pressure switch",
    pressure: true,
    params: &[CONTACT],
};

/// Temperature switch.
pub(super) static TEMPERATURE: SensorSwitch = SensorSwitch {
    kind: "temperature_switch",
    title: "Temperature switch",
    pressure: false,
    params: &[
        CONTACT,
        number("closes_c", "closes above", "°C", (-40.0, 105.0, 200.0)),
    ],
};

impl PartKind for SensorSwitch {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn shelf(&self) -> Shelf {
        Shelf::Sensors
    }

    fn letters(&self) -> &'static str {
        "S"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "stud", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "body", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        self.params
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("contact_open", "contact never closes", 1.5),
                mode("contact_stuck", "contact never opens", 1.5),
                graded("contact_worn", "contact burnt", 1.0, (1.0, 50.0, 1e5)),
            ]
        }
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(0, 1)]
    }

    fn needs_engine(&self) -> bool {
        self.pressure
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let set = if self.pressure {
            s.rpm < PRESSURE_RPM
        } else {
            s.operating.temperature_c >= s.param("closes_c")
        };
        let closed = set || s.fault("contact_stuck").is_some();
        let ohms = s.contact_ohms(
            closed,
            s.param("contact_ohms"),
            "contact_open",
            "contact_worn",
        );
        s.contact("contact", (0, 1), ohms);
    }
}
