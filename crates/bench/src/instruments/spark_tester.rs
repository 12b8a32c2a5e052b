//! Spark tester: a gap between points in open air, put on the end of a high-voltage lead in place of its
//! plug. A wide gap asks for kilovolts that a plug on the block does not.

use super::function::{Function, Instrument, Leads, PutOn, Standing, on_plugs};
use super::take::Held;
use std::cell::Cell;
use std::ops::ControlFlow;

use cimento_solver::{Element, Switch};

use super::function::Range;
use super::ignition_leads;
use super::reading::Shown;
use super::take::TakeError;
use crate::Bench;
use cimento_model::circuit::Circuit;
use cimento_model::stamped::StampedNetlist;
use cimento_model::units::{Quantity, Unit};
use cimento_parts::{NEEDLES, arc, breakdown_v};

/// The gap that it is set to unless another is asked for, in millimetres; common practice.
const GAP_MM: f64 = 10.0;
/// Turns of the crankshaft that are watched: every cylinder has fired by then.
const TURNS: f64 = 2.0;

/// Whether a spark jumps at the end of a lead, 0 or 1, while the engine turns.
///
/// # Errors
/// [`TakeError`] when the lead leads to no plug or an instant has no solution.
fn jumps(bench: &Bench, lead: &str, gap: Option<Range>) -> Result<f64, TakeError> {
    let circuit = &bench.circuit;
    let what = "the spark tester goes in place of a plug";
    let (_, plug) = ignition_leads::plug(circuit, lead, what)?;
    let (end, frame) = (plug.nodes[0], plug.nodes[1]);
    let volts = breakdown_v(gap.map_or(GAP_MM, |g| g.0), 1.0, NEEDLES);
    let tester = Cell::new(None);
    let ((arc_v, arc_ohms), trigger) = arc(volts);
    let attach = |wiring: &mut StampedNetlist| {
        let (a, b) = (wiring.node(end), wiring.node(frame));
        wiring.net.insulate(a);
        let element = wiring.net.attach(Element::open(a, b));
        wiring.motion.switches.push(Switch {
            element,
            closed: false,
            ohms: arc_ohms,
            volts: arc_v,
            trigger: trigger.clone(),
        });
        tester.set(Some(element));
    };
    let mut jumped = false;
    let plugless = bench.without(&plug.id);
    plugless.in_time(TURNS, &attach, &mut |_, _, now| {
        jumped |= tester.get().is_some_and(|e| now.current(e) != 0.0);
        match jumped {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        }
    })?;
    Ok(f64::from(u8::from(jumped)))
}

/// The tester as one sees it.
fn shown(value: f64, gap: Option<Range>) -> Shown {
    let value = Quantity::Number(value);
    Shown {
        text: value.text(Unit::Spark),
        unit: String::new(),
        range: format!("{} mm gap", gap.map_or(GAP_MM, |g| g.0)),
        value,
        wanders: None,
        beeps: false,
    }
}

/// An adjustable gap in place of a plug.
pub(super) struct SparkTester;

impl Function {
    pub const SPARK_TESTER: Self = Self::of(&SparkTester);
}

impl Instrument for SparkTester {
    fn name(&self) -> &'static str {
        "spark_tester"
    }

    fn label(&self) -> &'static str {
        "Spark tester"
    }

    fn title(&self) -> &'static str {
        "the spark tester"
    }

    fn unit(&self) -> Unit {
        Unit::Spark
    }

    fn hint(&self) -> &'static str {
        "spark, or no spark"
    }

    fn put_on(&self) -> PutOn {
        PutOn::IgnitionLead
    }

    // Its gap, in millimetres.
    fn ranges(&self) -> &'static [Range] {
        &[Range(6.0), Range(10.0), Range(20.0)]
    }

    fn settings(&self) -> &'static [&'static str] {
        &["6 mm gap", "10 mm gap", "20 mm gap"]
    }

    fn usual_setting(&self) -> Option<f64> {
        Some(GAP_MM)
    }

    fn is_ranged(&self) -> bool {
        false
    }

    fn accuracy(&self, _value: f64, _range: Range) -> f64 {
        0.0
    }

    fn follows_time(&self) -> bool {
        true
    }

    fn proposes_closer(&self, circuit: &Circuit, _: Standing<'_>) -> Vec<Leads> {
        on_plugs(circuit)
    }

    fn at(&self, held: &Held<'_>, lead: &str) -> Result<Shown, TakeError> {
        Ok(shown(jumps(held.bench, lead, held.range)?, held.range))
    }
}
