//! Hand starter: a rope that turns a small engine. It has no terminal.

use cimento_model::circuit::Part;
use cimento_model::faults::ModeSpec;
use cimento_model::part::number;
use cimento_model::part::{Control, Cranking, ParamSpec, PartKind, Stamp, Terminal};
use cimento_model::state::OperatingState;

const POSITIONS: [&str; 2] = ["at rest", "pulled"];

pub(super) struct HandStarter;

impl PartKind for HandStarter {
    fn kind(&self) -> &'static str {
        "hand_starter"
    }

    fn title(&self) -> &'static str {
        "Hand starter"
    }

    fn letters(&self) -> &'static str {
        "M"
    }

    fn terminals(&self) -> &'static [Terminal] {
        &[]
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[number(
                "rpm",
                "speed of a good pull",
                "rpm",
                (50.0, 500.0, 2000.0),
            )]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        &[]
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: part.control.clone().unwrap_or_else(|| "rope".to_owned()),
            positions: POSITIONS.map(str::to_owned).to_vec(),
            rest: POSITIONS[0].to_owned(),
            worked: POSITIONS[1].to_owned(),
            alone: false,
        })
    }

    fn cranking(&self) -> Option<&dyn Cranking> {
        Some(self)
    }

    fn stamp(&self, _: &mut Stamp<'_>) {}
}

impl Cranking for HandStarter {
    fn hand_rpm(&self, part: &Part, operating: &OperatingState) -> f64 {
        let name = part.control.as_deref().unwrap_or("rope");
        if operating.control(name) == POSITIONS[1] {
            part.params.number("rpm")
        } else {
            0.0
        }
    }
}
