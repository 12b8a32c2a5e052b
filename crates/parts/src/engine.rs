//! The engine, as far as it keeps an ignition from starting it: fuel and compression. It has no terminal, and what is wrong
//! with it is shown by all that is right with the rest.

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::{Context, Mechanics, ParamSpec, PartKind, Shelf, Stamp, Terminal};

const NO_FUEL: &str = "no_fuel";
const NO_COMPRESSION: &str = "no_compression";
/// What valves that stand open leave of the squeeze; common practice.
const OPEN_VALVES: f64 = 0.1;

pub(super) struct Engine;

impl PartKind for Engine {
    fn kind(&self) -> &'static str {
        "engine"
    }

    fn title(&self) -> &'static str {
        "Engine"
    }

    fn letters(&self) -> &'static str {
        "M"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Starting
    }

    fn terminals(&self) -> &'static [Terminal] {
        &[]
    }

    fn params(&self) -> &'static [ParamSpec] {
        &[]
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode(NO_FUEL, "gets no fuel", 3.0),
                mode(
                    NO_COMPRESSION,
                    "squeezes nothing, its valves are out of time",
                    0.5,
                ),
            ]
        }
    }

    fn mechanics(&self) -> Option<&dyn Mechanics> {
        Some(self)
    }

    fn stamp(&self, _: &mut Stamp<'_>) {}
}

impl Mechanics for Engine {
    fn gets_fuel(&self, context: &Context<'_>) -> bool {
        context.fault(NO_FUEL).is_none()
    }

    fn compression(&self, context: &Context<'_>) -> f64 {
        match context.fault(NO_COMPRESSION) {
            Some(_) => OPEN_VALVES,
            None => 1.0,
        }
    }
}
