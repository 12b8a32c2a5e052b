//! What the way that was taken costs the customer, beside the best one. It is no mark.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::Case;
use crate::attempt::actions::{Repair, TRIAL_MINUTES};
use crate::attempt::{Action, RepairKind, cures, repairs};
use crate::lesson::Prices;
use cimento_model::circuit::{Circuit, Place};

/// Both ways.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Cost {
    pub money: String,
    pub taken: Bill,
    /// The reference plan, the cure, and a trial before and after.
    pub best: Bill,
}

/// What is to be paid.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Bill {
    pub minutes: f64,
    pub work: f64,
    /// Parts and material: of what, and how much.
    pub parts: Vec<Item>,
    pub total: f64,
}

/// A line of a bill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = BillItem)]
pub struct Item {
    pub what: String,
    pub price: f64,
}

fn bill(prices: &Prices, minutes: f64, parts: Vec<Item>) -> Bill {
    let work = prices.hour * minutes / 60.0;
    let total = work + parts.iter().map(|i| i.price).sum::<f64>();
    Bill {
        minutes,
        work,
        parts,
        total,
    }
}

/// Others mend it, and bill for that themselves.
fn is_engine(circuit: &Circuit, place: Place) -> bool {
    matches!(place, Place::Part(n) if circuit.parts[n].kind.mechanics().is_some())
}

/// What it costs, where the lesson has prices.
pub(super) fn cost(case: &Case<'_>) -> Option<Cost> {
    let lesson = case.lesson;
    let prices = lesson.prices.as_ref()?;
    let circuit = &lesson.circuit;
    let item = |place: Place, how: RepairKind| Item {
        what: format!("{} {}", circuit.place_id(place), how.text()),
        price: match how {
            // Nothing is fitted.
            RepairKind::Adjust => 0.0,
            RepairKind::SendOut if is_engine(circuit, place) => 0.0,
            _ => prices.of(circuit, place),
        },
    };
    let fitted = case.steps.iter().filter_map(|s| match &s.action {
        Action::Repair(Repair { place, how, .. }) => Some(item(circuit.place(place)?, *how)),
        _ => None,
    });
    let minutes = case.steps.iter().map(|s| s.minutes).sum();
    let cure = lesson.faults.iter().filter_map(|fault| {
        let all = repairs(circuit, fault.place).iter().copied();
        let cures = all.filter(|how| cures(circuit, fault.place, fault.mode.spec, *how));
        let price =
            |how: &RepairKind| prices.hour * how.minutes() / 60.0 + item(fault.place, *how).price;
        let cheapest = cures.min_by(|a, b| price(a).total_cmp(&price(b)));
        Some((fault.place, cheapest?))
    });
    let cure: Vec<(Place, RepairKind)> = cure.collect();
    let mended: f64 = cure.iter().map(|(_, how)| how.minutes()).sum();
    let best = case.reference.plan.minutes + 2.0 * TRIAL_MINUTES + mended;
    let best_items = cure.iter().map(|(place, how)| item(*place, *how));
    Some(Cost {
        money: prices.money.clone(),
        taken: bill(prices, minutes, fitted.collect()),
        best: bill(prices, best, best_items.collect()),
    })
}
