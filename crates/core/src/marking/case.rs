//! An attempt laid open for marking: its steps beside the healthy bench and the suspects.

use std::collections::BTreeSet;

use crate::attempt::{Action, Answer, Lesson, Session, Step, Verdict, perform};
use crate::bench::{Bench, BenchError};
use crate::circuit::Place;
use crate::instruments::{Function, Range, Reading, read, take};
use crate::key::tolerance;
use crate::suspects::{Suspects, Table, ambiguity_group};

/// Everything criteria judge by.
pub struct Case<'a> {
    pub lesson: &'a Lesson,
    pub steps: &'a [Step],
    pub readings: Vec<Taken<'a>>,
    /// Places possible after the complaint.
    pub n0: usize,
    /// Places possible when the fault was named, if it was.
    pub n: Option<usize>,
    /// The fault's ambiguity group.
    pub group: BTreeSet<Place>,
    /// The last naming before the first repair.
    pub named: Option<Named>,
    /// The faulty bench as the student left it.
    pub left: Session<'a>,
}

/// A reading with what it should have been.
pub struct Taken<'a> {
    pub step: usize,
    pub reading: &'a Reading,
    pub expected: Option<&'a str>,
    pub healthy: Reading,
    pub tolerance: f64,
    /// The last verdict, with its step.
    pub verdict: Option<(usize, Verdict)>,
    /// Bits it was worth when it was taken; absent after the fault was named.
    pub worth: Option<f64>,
    /// Voltage lay between the probes of a resistance reading, in volts.
    pub live_v: Option<f64>,
    pub after_repair: bool,
    /// The point stands as far below the battery's positive post as in a healthy machine, though
    /// the battery itself may stand higher because a load is missing: the supply is good up to here.
    pub nothing_lost: bool,
}

/// The fault as named.
pub struct Named {
    pub step: usize,
    pub place: Option<Place>,
    pub mode: String,
}

impl<'a> Case<'a> {
    /// Goes through the steps once, with a healthy machine and the suspects beside.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit that has to be computed has no solution.
    pub fn new(lesson: &'a Lesson, steps: &'a [Step]) -> Result<Self, BenchError> {
        let named = named(lesson, steps);
        let mut suspects = Suspects::after_complaint(lesson)?;
        let table = Table::new(&suspects)?;
        let group = ambiguity_group(&suspects, &table);
        let n0 = suspects.places().len();
        let mut n = None;
        let mut healthy = Session::tried(lesson, &[])?.0;
        let mut left = Session::start(lesson)?;
        let (mut readings, mut repaired) = (Vec::new(), false);
        for step in steps {
            let open = n.is_none();
            if let (
                Action::TakeReading {
                    expected, range, ..
                },
                Answer::Reading { reading },
            ) = (&step.action, &step.answer)
            {
                let worth = if open {
                    Some(suspects.worth(reading)?)
                } else {
                    None
                };
                let mut taken = taken(lesson, &healthy, left.bench(), reading, range.map(Range))?;
                taken.step = step.no;
                taken.expected = expected.as_deref();
                taken.worth = worth;
                taken.after_repair = repaired;
                readings.push(taken);
            }
            if open {
                suspects.follow(step)?;
                if named.as_ref().is_some_and(|named| named.step == step.no) {
                    n = Some(suspects.places().len());
                }
            }
            follow_healthy(&mut healthy, &step.action)?;
            repaired |= matches!(step.action, Action::Repair { .. });
            left.act(step.action.clone())
                .map_err(|e| BenchError::NoSolution(e.to_string()))?;
        }
        for step in steps {
            if let Action::Judge { step: of, verdict } = step.action
                && let Some(taken) = readings.iter_mut().find(|t| t.step == of)
            {
                taken.verdict = Some((step.no, verdict));
            }
        }
        Ok(Self {
            lesson,
            steps,
            readings,
            n0,
            n,
            group,
            named,
            left,
        })
    }
}

fn named(lesson: &Lesson, steps: &[Step]) -> Option<Named> {
    let repair = steps
        .iter()
        .position(|s| matches!(s.action, Action::Repair { .. }));
    let before = &steps[..repair.unwrap_or(steps.len())];
    before.iter().rev().find_map(|s| match &s.action {
        Action::NameFault { place, mode, .. } => Some(Named {
            step: s.no,
            place: lesson.circuit.place(place),
            mode: mode.clone(),
        }),
        _ => None,
    })
}

/// The healthy machine is put through the same states; repairs change nothing on it.
fn follow_healthy(healthy: &mut Bench<'_>, action: &Action) -> Result<(), BenchError> {
    perform(healthy, action)?;
    match action {
        Action::TryComplaint => crate::bench::complaint(healthy).map(|_| ()),
        _ => Ok(()),
    }
}

fn taken<'a>(
    lesson: &Lesson,
    healthy: &Bench<'_>,
    faulty: &Bench<'_>,
    reading: &'a Reading,
    range: Option<Range>,
) -> Result<Taken<'a>, BenchError> {
    let circuit = &lesson.circuit;
    let point = |id: &Option<String>| id.as_deref().and_then(|id| circuit.test_point(id));
    let (red, black) = (point(&reading.red), point(&reading.black));
    let (red_id, black_id) = (reading.red.as_deref(), reading.black.as_deref());
    let should = take(healthy, reading.function, range, red_id, black_id)
        .map_err(|e| BenchError::NoSolution(e.to_string()))?;
    let spans = match (red, black) {
        (Some(red), Some(black)) => spanned(lesson, red.node, black.node),
        _ => None,
    };
    let taken_tolerance = tolerance(circuit, &lesson.limits, &should, spans);
    let volts = read(faulty, Function::DcVolts, None, red, black)?;
    let to_negative = black.is_some_and(|b| b.node == 0)
        && should.shown.value.number() > lesson.circuit.doc.system_v / 2.0;
    let nothing_lost = match red {
        Some(red) if to_negative && reading.function == Function::DcVolts => {
            let positive = circuit.test_point(circuit.positive_name());
            let lost =
                |bench: &Bench<'_>| read(bench, Function::DcVolts, None, positive, Some(red));
            crate::key::agree(&lost(healthy)?.shown, &lost(faulty)?.shown, taken_tolerance)
        }
        _ => false,
    };
    Ok(Taken {
        step: 0,
        reading,
        expected: None,
        tolerance: taken_tolerance,
        healthy: should,
        verdict: None,
        worth: None,
        live_v: Some(volts.shown.value.number()),
        after_repair: false,
        nothing_lost,
    })
}

/// The one place that lies between two nodes, if one does.
fn spanned(lesson: &Lesson, a: usize, b: usize) -> Option<Place> {
    let circuit = &lesson.circuit;
    let joins = |x: usize, y: usize| (x, y) == (a, b) || (y, x) == (a, b);
    let conductor = circuit.conductors.iter().position(|c| joins(c.a, c.b));
    let part = || {
        circuit.parts.iter().position(|p| {
            let contacts = p.kind.contacts(&p.params);
            contacts.iter().any(|&(x, y)| joins(p.nodes[x], p.nodes[y]))
        })
    };
    conductor
        .map(Place::Conductor)
        .or_else(|| part().map(Place::Part))
}
