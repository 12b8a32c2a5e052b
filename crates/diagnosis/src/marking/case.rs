//! An attempt laid open for marking: its steps beside the healthy bench and the suspects.

use crate::attempt::actions::{Judge, NameFault, TakeCapture, TakeReading};
use std::collections::{BTreeMap, BTreeSet};

use super::claims::{Claim, claim};
use super::safety::{SafetyEvent, events};
use crate::attempt::{Action, Answer, Session, Step, Supposed, Touch, Verdict, perform};
use crate::key::tolerance;
use crate::lesson::Lesson;
use crate::suspects::{Choice, Reference, RuledOut, Span, Suspects};
use cimento_bench::instruments::{
    Capture, Function, Looks, Range, Reading, Trace, read, take_with,
};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Place;
use cimento_model::state::OperatingState;

/// Everything criteria judge by.
pub struct Case<'a> {
    pub lesson: &'a Lesson,
    pub reference: &'a Reference,
    pub steps: &'a [Step],
    pub readings: Vec<Taken<'a>>,
    /// Screens of the oscilloscope.
    pub screens: Vec<Screen<'a>>,
    /// What each step up to the naming made impossible.
    pub track: Vec<Tracked>,
    /// Clearances and suspicions, in order.
    pub claims: Vec<Claim>,
    pub events: Vec<SafetyEvent>,
    /// Places possible after the complaint.
    pub n0: usize,
    /// Places possible when the fault was named, if it was.
    pub n: Option<usize>,
    /// The fault as named before it was repaired; several for several faults.
    pub named: Vec<Named>,
    /// The faulty bench as the student left it.
    pub left: Session,
}

/// A reading with what it should have been.
pub struct Taken<'a> {
    pub step: usize,
    pub reading: &'a Reading,
    pub range: Option<Range>,
    pub expected: Option<&'a str>,
    /// The fault with which that was expected, and what it makes the meter show; none where what a
    /// healthy circuit shows was asked.
    pub supposing: Option<(&'a Supposed, Option<Span>)>,
    pub touch: Touch,
    pub healthy: Reading,
    pub tolerance: f64,
    /// The last verdict, with its step.
    pub verdict: Option<(usize, Verdict)>,
    /// Bits it was worth when it was taken; absent after the fault was named.
    pub bits: Option<f64>,
    /// What was spent on it, beside the best then to be had; absent once a single group was left.
    pub choice: Option<Chosen>,
    /// Voltage between the probes, in volts.
    pub live_v: Option<f64>,
    /// Whether the leads' own resistance was taken off.
    pub zeroed: bool,
    pub after_repair: bool,
    /// The place that lies between the leads.
    pub spans: Option<Place>,
    /// Neither end of that place was free, so the meter may have seen another way round.
    pub attached: bool,
    /// The point stands as far below the battery's positive post as in a healthy machine, though
    /// the battery itself may stand higher because a load is missing: the supply is good up to here.
    pub nothing_lost: bool,
}

/// A screen of the oscilloscope with what it should have been.
pub struct Screen<'a> {
    pub step: usize,
    pub capture: &'a Capture,
    pub expected: &'a [Looks],
    pub healthy: Capture,
    /// The last verdict, with its step.
    pub verdict: Option<(usize, Verdict)>,
    /// Bits it was worth when it was taken; absent after the fault was named.
    pub bits: Option<f64>,
    pub choice: Option<Chosen>,
}

impl Screen<'_> {
    /// What of it is not as a healthy machine shows it, channel by channel.
    pub fn differs(&self) -> Vec<String> {
        let both = self.capture.traces.iter().zip(&self.healthy.traces);
        let one = |(shown, should): (&Trace, &Trace)| {
            let differs = shown.features.differs(&should.features, shown.measures());
            (!differs.is_empty()).then(|| format!("{}: {}", shown.name, differs.join(", ")))
        };
        both.filter_map(one).collect()
    }
}

/// A measurement as it was chosen.
#[derive(Debug, Clone, Copy)]
pub struct Chosen {
    pub bits: f64,
    pub minutes: f64,
    /// The measurement of the reference's table that was worth most per minute.
    pub best: Option<Choice>,
}

impl Chosen {
    /// Worth per minute beside the best, 0 to 1.
    pub fn share(self) -> f64 {
        match self.best {
            Some(best) => (self.bits / self.minutes / (best.bits / best.minutes)).min(1.0),
            None => 1.0,
        }
    }
}

/// What a step of the attempt did to the suspects.
pub struct Tracked {
    pub step: usize,
    pub gone: Vec<RuledOut>,
    pub left: Vec<(Place, f64)>,
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
    pub fn new(reference: &'a Reference, steps: &'a [Step]) -> Result<Self, BenchError> {
        let lesson = &reference.lesson;
        let named = named(lesson, steps);
        let last_named = named.last().map(|n| n.step);
        let mut suspects = reference.after_complaint.clone();
        let mut healthy = lesson.trial().run(&[], lesson.brought_in().shared())?.0;
        let mut out = Self {
            lesson,
            reference,
            steps,
            readings: Vec::new(),
            screens: Vec::new(),
            track: Vec::new(),
            claims: Vec::new(),
            events: Vec::new(),
            n0: suspects.places().len(),
            n: None,
            named,
            left: Session::start(lesson),
        };
        let mut way = Way {
            now: Some(0),
            minutes: 0.0,
        };
        for step in steps {
            let open = out.n.is_none();
            if let Answer::Reading { reading } = &step.answer {
                let repaired = out.left.has_repaired();
                let mut taken = taken(lesson, &healthy, &out.left, step, reading)?;
                taken.after_repair = repaired;
                if let Action::TakeReading(TakeReading {
                    supposing: Some(fault),
                    ..
                }) = &step.action
                {
                    taken.supposing = Some((fault, suspects.supposing(fault, reading)?));
                }
                if open {
                    let bits = suspects.information_gain(reading)?;
                    taken.bits = Some(bits);
                    if !suspects.places().is_subset(&reference.group) {
                        taken.choice = Some(way.chosen(reference, &suspects, step, reading, bits)?);
                    }
                }
                way.arrive(reference, reading);
                out.readings.push(taken);
            } else if let (
                Action::Capture(TakeCapture { scope, expected }),
                Answer::Captured { capture },
            ) = (&step.action, &step.answer)
            {
                let mut screen = Screen {
                    step: step.no,
                    capture,
                    expected,
                    healthy: cimento_bench::instruments::capture(&healthy, scope)?,
                    verdict: None,
                    bits: None,
                    choice: None,
                };
                if open {
                    let bits = suspects.information_from_screen(scope)?;
                    screen.bits = Some(bits);
                    if !suspects.places().is_subset(&reference.group) {
                        screen.choice = Some(Chosen {
                            bits,
                            minutes: way.minutes + step.minutes,
                            best: reference.table.best(&suspects.living_roots(), way.now)?,
                        });
                    }
                }
                way.minutes = 0.0;
                out.screens.push(screen);
            } else {
                way.minutes += step.minutes;
            }
            if open {
                let gone = suspects.follow(step)?;
                let new = claim(&out, &suspects, step);
                out.claims.extend(new);
                let left = suspects.belief();
                out.track.push(Tracked {
                    step: step.no,
                    gone,
                    left,
                });
                if last_named == Some(step.no) {
                    out.n = Some(suspects.places().len());
                }
            }
            let done = out.left.act(step.action.clone());
            done?;
            follow_healthy(&mut healthy, &step.action, out.left.bench().state())?;
            out.events.extend(events(out.left.bench(), step));
        }
        for step in steps {
            let Action::Judge(Judge { step: of, verdict }) = step.action else {
                continue;
            };
            let verdict = Some((step.no, verdict));
            if let Some(taken) = out.readings.iter_mut().find(|t| t.step == of) {
                taken.verdict = verdict;
            } else if let Some(screen) = out.screens.iter_mut().find(|s| s.step == of) {
                screen.verdict = verdict;
            }
        }
        Ok(out)
    }

    /// The screen that was captured at a step.
    pub fn screen(&self, step: usize) -> Option<&Screen<'a>> {
        self.screens.iter().find(|s| s.step == step)
    }

    /// What was spent on each reading and screen beside the best then to be had, by step.
    pub fn choices(&self) -> impl Iterator<Item = (usize, Chosen)> {
        let readings = self.readings.iter().map(|t| (t.step, t.choice));
        let screens = self.screens.iter().map(|s| (s.step, s.choice));
        let all = readings.chain(screens);
        all.filter_map(|(step, choice)| Some((step, choice?)))
    }

    /// The fault's ambiguity group.
    pub fn group(&self) -> &BTreeSet<Place> {
        &self.reference.group
    }

    /// Whether a place holds the fault, or no permitted measurement tells it from where it is. A part
    /// that is named for a fault at one of its terminals is named rightly.
    pub fn is_guilty(&self, place: Place) -> bool {
        self.group().iter().any(|g| same_unit(*g, place))
    }

    /// The step at which each place was ruled out.
    pub fn gone_at(&self) -> BTreeMap<Place, usize> {
        let all = self.track.iter();
        all.flat_map(|t| t.gone.iter().map(move |g| (g.place, t.step)))
            .collect()
    }

    /// How many readings were taken after one step and before another.
    pub fn readings_between(&self, after: usize, before: usize) -> usize {
        let within = |t: &&Taken<'_>| t.step > after && t.step < before;
        self.readings.iter().filter(within).count()
    }
}

/// Whether two places come as one unit: a part and its terminals do.
pub(super) fn same_unit(a: Place, b: Place) -> bool {
    let part = |p: Place| match p {
        Place::Part(n) | Place::Pin(n, _) => Some(n),
        Place::Conductor(_) => None,
    };
    a == b || (part(a).is_some() && part(a) == part(b))
}

/// The way from one reading to the next.
struct Way {
    /// The state of the last reading in the reference's table; at rest before the first.
    now: Option<usize>,
    /// Minutes spent since the last reading.
    minutes: f64,
}

impl Way {
    /// A reading beside the best that could have been taken instead.
    fn chosen(
        &self,
        reference: &Reference,
        suspects: &Suspects,
        step: &Step,
        reading: &Reading,
        bits: f64,
    ) -> Result<Chosen, BenchError> {
        let table = &reference.table;
        let minutes = match table.find(reading) {
            Some(known) => table.minutes(known, self.now),
            None => self.minutes + step.minutes,
        };
        Ok(Chosen {
            bits,
            minutes,
            best: table.best(&suspects.living_roots(), self.now)?,
        })
    }

    fn arrive(&mut self, reference: &Reference, reading: &Reading) {
        *self = Self {
            now: reference.table.state_of(reading),
            minutes: 0.0,
        };
    }
}

/// The last naming before the first repair; with several faults, every place named before the last.
fn named(lesson: &Lesson, steps: &[Step]) -> Vec<Named> {
    let is_repair = |s: &Step| matches!(s.action, Action::Repair(_));
    let several = lesson.faults.len() > 1;
    let repair = match several {
        true => steps.iter().rposition(is_repair),
        false => steps.iter().position(is_repair),
    };
    let before = &steps[..repair.unwrap_or(steps.len())];
    let all = before.iter().filter_map(|s| match &s.action {
        Action::NameFault(NameFault { place, mode, .. }) => Some(Named {
            step: s.no,
            place: lesson.circuit.place(place),
            mode: mode.clone(),
        }),
        _ => None,
    });
    let mut out: Vec<Named> = Vec::new();
    for named in all {
        // The last word on a place counts, and no more places than there are faults.
        out.retain(|n| n.place != named.place);
        out.push(named);
        if out.len() > lesson.faults.len() {
            out.remove(0);
        }
    }
    out
}

/// The healthy machine is put through the same, repairs change nothing on it, and then stands as the
/// student's does: its engine may run on where the student's died.
fn follow_healthy(
    healthy: &mut Bench,
    action: &Action,
    stands: &OperatingState,
) -> Result<(), BenchError> {
    perform(healthy, action)?;
    if healthy.state() != stands {
        healthy.set(stands.clone())?;
    }
    Ok(())
}

fn taken<'a>(
    lesson: &Lesson,
    healthy: &Bench,
    session: &Session,
    step: &'a Step,
    reading: &'a Reading,
) -> Result<Taken<'a>, BenchError> {
    let (range, expected, touch) = match &step.action {
        Action::TakeReading(TakeReading {
            range,
            expected,
            touch,
            ..
        }) => (range.map(Range), expected.as_deref(), *touch),
        _ => (None, None, Touch::default()),
    };
    let circuit = &lesson.circuit;
    let (faulty, meter) = (session.bench(), session.meter());
    let point = |id: &Option<String>| id.as_deref().and_then(|id| circuit.test_point(id));
    let (red, black) = (point(&reading.red), point(&reading.black));
    let (red_id, black_id) = (reading.red.as_deref(), reading.black.as_deref());
    let should = take_with(meter, healthy, reading.function, range, red_id, black_id)?;
    let spans = match (red, black) {
        (Some(red), Some(black)) => spanned(lesson, red.node, black.node),
        _ => None,
    };
    let tolerance = tolerance(circuit, &lesson.limits, &should, spans);
    let volts = read(faulty, Function::DC_VOLTS, None, red, black)?;
    let to_negative = black.is_some_and(|b| b.node == 0)
        && should.shown.value.number() > lesson.circuit.doc.system_v / 2.0;
    let nothing_lost = match red {
        Some(red) if to_negative && reading.function == Function::DC_VOLTS => {
            let positive = circuit.test_point(circuit.positive_name());
            let lost = |bench: &Bench| read(bench, Function::DC_VOLTS, None, positive, Some(red));
            crate::key::agree(&lost(healthy)?.shown, &lost(faulty)?.shown, tolerance)
        }
        _ => false,
    };
    Ok(Taken {
        step: step.no,
        reading,
        range,
        expected,
        supposing: None,
        touch,
        tolerance,
        healthy: should,
        verdict: None,
        bits: None,
        choice: None,
        live_v: Some(volts.shown.value.number()),
        zeroed: meter.zeroed,
        attached: spans.is_some_and(|p| !has_free_end(faulty, p)),
        after_repair: false,
        spans,
        nothing_lost,
    })
}

/// Whether one end of a place has nothing else on it in the machine's present state: then an ohmmeter
/// across the place sees nothing but the place.
fn has_free_end(bench: &Bench, place: Place) -> bool {
    let circuit = &bench.circuit;
    let there = |p: Place| p != place && !bench.state().is_apart(circuit, p);
    let conductors = || circuit.conductors.iter().enumerate();
    let parts = || circuit.parts.iter().enumerate();
    let bare = |node: usize| {
        let wired =
            conductors().any(|(n, c)| (c.a == node || c.b == node) && there(Place::Conductor(n)));
        let in_part = parts().any(|(n, p)| p.nodes.contains(&node) && there(Place::Part(n)));
        !wired && !in_part
    };
    match place {
        Place::Conductor(n) => bare(circuit.conductors[n].a) || bare(circuit.conductors[n].b),
        Place::Part(n) | Place::Pin(n, _) => {
            bench.state().is_apart(circuit, place)
                || circuit.parts[n].nodes.iter().any(|node| bare(*node))
        }
    }
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
