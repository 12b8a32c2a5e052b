//! Thermistor, resistance falling with temperature: `R = R25 · exp(B·(1/T − 1/298.15 K))`.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{ParamSpec, PartKind, Shelf, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

const ZERO_C: f64 = 273.15;

pub(super) struct Thermistor;

impl PartKind for Thermistor {
    fn kind(&self) -> &'static str {
        "thermistor"
    }

    fn title(&self) -> &'static str {
        "Temperature sensor"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Sensors
    }

    fn letters(&self) -> &'static str {
        "B"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of plug, signal", true),
                terminal("2", "back of plug, ground", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("ohms_25", "resistance at 25 °C", "Ω", (10.0, 2500.0, 1e6)),
                number("beta_k", "steepness", "K", (500.0, 3500.0, 8000.0)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("open", "element broken", 1.5),
                mode("shorted", "element shorted", 1.0),
                graded("drifted", "resistance risen", 1.0, (50.0, 2000.0, 1e6)),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (t, t25) = (s.operating.temperature_c + ZERO_C, 25.0 + ZERO_C);
        let healthy = s.param("ohms_25") * (s.param("beta_k") * (1.0 / t - 1.0 / t25)).exp();
        let ohms = match s.fault("shorted") {
            Some(_) => 0.1,
            None => s.contact_ohms(true, healthy, "open", "drifted"),
        };
        let element = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("element", Role::Load, element);
    }
}
