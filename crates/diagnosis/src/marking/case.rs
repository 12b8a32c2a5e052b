//! An attempt laid open for marking: its steps beside the healthy bench and the suspects.

use crate::attempt::actions::{FindNoFault, Judge, NameFault, TakeCapture, TakeReading};
use std::collections::{BTreeMap, BTreeSet};

use super::claims::{Claim, claim, standing};
use super::safety::{SafetyEvent, events};
use crate::attempt::{Action, Answer, Evidence, Session, Step, Supposed, Touch, Verdict, perform};
use crate::key::{spanned, tolerance};
use crate::lesson::Lesson;
use crate::suspects::{
    Choice, Reference, RuledOut, Span, Suspects, TELLS_NOTHING_BITS, gain_of_two,
};
use cimento_bench::instruments::{
    Capture, Function, Looks, Range, Reading, Trace, read, take_with,
};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Circuit, Place};
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
    /// Acts that are no readings and asked the machine something: looks, trials, exchanges.
    pub acts: Vec<(usize, Chosen)>,
    /// Possibilities after the complaint: places, and that nothing is wrong where that is one.
    pub n0: usize,
    /// Possibilities when the fault was named, or else when the first repair was begun or the attempt
    /// handed in: from the student's own evidence.
    pub n: usize,
    /// Possibilities after the reference plan.
    pub n_ref: usize,
    /// Bits of doubt, by belief, after the complaint and when it was concluded.
    doubt: [f64; 2],
    /// The fault as named before it was repaired; several for several faults.
    pub named: Vec<Named>,
    /// The step at which it was said that nothing is wrong, if that is how it was concluded.
    pub no_fault: Option<usize>,
    /// The faulty bench as the student left it.
    pub left: Session,
    /// Plugs that were put back crossed, with the step.
    pub plugs_crossed: Vec<(usize, [String; 2])>,
    /// The same as it was first given back, where it was.
    given_back: Option<Session>,
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
    /// It had been taken before, in the same state.
    pub again: bool,
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
    /// It had been taken before, in the same way.
    pub again: bool,
    pub choice: Option<Chosen>,
}

impl Screen<'_> {
    /// Whether a step asks for the same screen.
    fn asks_as(&self, step: &Step, steps: &[Step]) -> bool {
        let scope = |s: &Step| match &s.action {
            Action::Capture(TakeCapture { scope, .. }) => Some(scope.clone()),
            _ => None,
        };
        scope(step) == scope(&steps[self.step - 1]) && !asked_between(steps, self.step, step.no)
    }

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
    /// Worth per minute beside the best, 0 to 1; none where nothing would have told more.
    pub fn share(self) -> Option<f64> {
        let best = self.best?;
        if self.bits < TELLS_NOTHING_BITS {
            return Some(0.0);
        }
        Some((self.bits / self.minutes / (best.bits / best.minutes)).min(1.0))
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
    /// The steps that are said to prove it.
    pub because: Vec<usize>,
}

impl<'a> Case<'a> {
    /// Goes through the steps once, with a healthy machine and the suspects beside.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit that has to be computed has no solution.
    pub fn new(reference: &'a Reference, steps: &'a [Step]) -> Result<Self, BenchError> {
        let lesson = &reference.lesson;
        let (named, no_fault) = concluded(lesson, steps);
        let last_named = named.last().map(|n| n.step).or(no_fault);
        let mut suspects = reference.after_complaint.clone();
        // Whatever was mixed up, what one expects is held against a machine that is as it should be.
        let beside = lesson.brought_in().shared().clone().mixing_plugs(false);
        let mut healthy = lesson.trial().run(&[], &beside)?.0;
        let last_open = last_named
            .or_else(|| first_repair(lesson, steps)?.no.checked_sub(1))
            .unwrap_or(steps.len());
        let mut out = Self {
            lesson,
            reference,
            steps,
            readings: Vec::new(),
            screens: Vec::new(),
            acts: Vec::new(),
            track: Vec::new(),
            claims: Vec::new(),
            events: Vec::new(),
            n0: suspects.possibilities(),
            n: suspects.possibilities(),
            n_ref: reference.places_after_plan(),
            doubt: [suspects.doubt(); 2],
            named,
            no_fault,
            left: Session::start(lesson),
            plugs_crossed: Vec::new(),
            given_back: None,
        };
        let mut way = Way::new();
        for step in steps {
            let open = step.no <= last_open;
            let free = way.is_free(lesson, step);
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
                    taken.again = out
                        .readings
                        .iter()
                        .any(|t| same_question(t.reading, reading));
                    if !free && !reference.is_proven(&suspects) {
                        let minutes = way.minutes_of(reference, step, reading);
                        taken.choice = Some(way.chosen(reference, &suspects, bits, minutes)?);
                    }
                }
                way.arrive(reference, &reading.state);
                out.readings.push(taken);
            } else if let (
                Action::Capture(TakeCapture {
                    scope, expected, ..
                }),
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
                    again: false,
                    choice: None,
                };
                if open {
                    let bits = suspects.information_from_screen(scope)?;
                    screen.bits = Some(bits);
                    screen.again = out.screens.iter().any(|s| s.asks_as(step, steps));
                    if !reference.is_proven(&suspects) {
                        let minutes = way.minutes + step.minutes;
                        screen.choice = Some(way.chosen(reference, &suspects, bits, minutes)?);
                    }
                }
                way.minutes = 0.0;
                out.screens.push(screen);
            } else if !free {
                way.minutes += step.minutes;
            }
            // What a look or a trial is worth shows in what it leaves, and in what it would have left otherwise.
            let asked = open && !free && asks_by_itself(step);
            let before = asked.then(|| (suspects.clone(), suspects.weights()));
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
                out.n = suspects.possibilities();
                out.doubt[1] = suspects.doubt();
            }
            if let (Action::SecondVisit(_), None) = (&step.action, &out.given_back) {
                out.given_back = Some(out.left.clone());
            }
            let before_it = out.left.bench().crossed_plugs().len();
            let done = out.left.act(step.action.clone());
            done?;
            let crossed = out.left.bench().crossed_plugs();
            if let (true, Some(pair)) = (crossed.len() > before_it, crossed.last()) {
                out.plugs_crossed.push((step.no, pair.clone()));
            }
            if let Some((suspected, weights)) = before
                && !reference.is_proven(&suspected)
            {
                let bits = gain_of_two(&weights, &suspects.weights());
                let chosen = way.chosen(reference, &suspected, bits, way.minutes)?;
                out.acts.push((step.no, chosen));
            }
            if asks_by_itself(step) {
                way.arrive(reference, &out.left.bench().state().about());
            }
            follow_healthy(&mut healthy, &step.action, out.left.bench().state())?;
            out.events.extend(events(out.left.bench(), step));
        }
        out.claims = standing(std::mem::take(&mut out.claims), steps);
        out.judge();
        // What was done after the last thing that told anything was time spent too.
        if way.minutes > 0.0 && !reference.is_proven(&suspects) {
            let chosen = way.chosen(reference, &suspects, 0.0, way.minutes)?;
            out.acts.push((last_open, chosen));
        }
        Ok(out)
    }

    /// The verdict on each reading: the last one before the machine was asked something again.
    fn judge(&mut self) {
        for step in self.steps.iter().filter(|s| !s.by_partner) {
            let Action::Judge(Judge { step: of, verdict }) = step.action else {
                continue;
            };
            let before = match self.readings.iter_mut().find(|t| t.step == of) {
                Some(taken) => &mut taken.verdict,
                None => match self.screens.iter_mut().find(|s| s.step == of) {
                    Some(screen) => &mut screen.verdict,
                    None => continue,
                },
            };
            if before.is_none_or(|(at, _)| !asked_between(self.steps, at, step.no)) {
                *before = Some((step.no, verdict));
            }
        }
    }

    /// The bench as it was first handed over.
    pub fn handed_over(&self) -> &Session {
        self.given_back.as_ref().unwrap_or(&self.left)
    }

    /// The steps until the machine was given back.
    pub fn first_visit(&self) -> &'a [Step] {
        first_visit(self.steps)
    }

    /// How many suspects a step ruled out.
    pub fn ruled_out(&self, step: usize) -> usize {
        let Some(at) = self.track.iter().position(|t| t.step == step) else {
            return 0;
        };
        let before = at.checked_sub(1).and_then(|n| self.track.get(n));
        let before = before.map_or(self.n0, |t| t.left.len());
        before.saturating_sub(self.track[at].left.len())
    }

    /// The share of what the reference plan learns that the student's own evidence learnt, 0 to 1. Where the complaint
    /// alone leaves no more than the plan does, all of it once something was read that was out.
    pub fn learnt(&self) -> f64 {
        if self.n0 <= self.n_ref {
            let out = |t: &Taken<'_>| {
                t.bits.is_some()
                    && !crate::key::agree(&t.healthy.shown, &t.reading.shown, t.tolerance)
            };
            let seen = self
                .screens
                .iter()
                .any(|s| s.bits.is_some() && !s.differs().is_empty());
            return f64::from(u8::from(seen || self.readings.iter().any(out)));
        }
        self.towards(self.n_ref)
    }

    /// How far the evidence went from all possibilities to so many, 0 to 1. Of a sound machine hardly anything is ever
    /// ruled out for good: there it is by belief, so that far-fetched faults weigh little.
    pub fn towards(&self, least: usize) -> f64 {
        if self.lesson.faults.is_empty() {
            let [before, after] = self.doubt;
            return (1.0 - after / before).clamp(0.0, 1.0);
        }
        let n0 = self.n0 as f64;
        let (n, least) = (self.n.max(1) as f64, least.max(1) as f64);
        ((n0 / n).log2() / (n0 / least).log2()).clamp(0.0, 1.0)
    }

    /// Whether it was said what is wrong, or that nothing is.
    pub fn is_concluded(&self) -> bool {
        !self.named.is_empty() || self.no_fault.is_some()
    }

    /// The screen that was captured at a step.
    pub fn screen(&self, step: usize) -> Option<&Screen<'a>> {
        self.screens.iter().find(|s| s.step == step)
    }

    /// What was spent on each reading and screen beside the best then to be had, by step.
    pub fn choices(&self) -> impl Iterator<Item = (usize, Chosen)> {
        let readings = self.readings.iter().map(|t| (t.step, t.choice));
        let screens = self.screens.iter().map(|s| (s.step, s.choice));
        let measured = readings.chain(screens);
        let measured = measured.filter_map(|(step, choice)| Some((step, choice?)));
        measured.chain(self.acts.iter().copied())
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
    /// Minutes spent since the machine last answered.
    minutes: f64,
    /// The complaint has been tried, and something looked at.
    tried: bool,
    looked: bool,
}

impl Way {
    fn new() -> Self {
        Self {
            now: Some(0),
            minutes: 0.0,
            tried: false,
            looked: false,
        }
    }

    /// The first trial, with what brings its condition about, and the first look are what one begins with: they are
    /// held against nobody.
    fn is_free(&mut self, lesson: &Lesson, step: &Step) -> bool {
        match &step.action {
            Action::TryComplaint(_) => !std::mem::replace(&mut self.tried, true),
            Action::WarmUp(_) | Action::Wet(_) | Action::Wiggle(_) => {
                lesson.condition().is_some() && !self.tried
            }
            _ if looks(&lesson.circuit, step) => !std::mem::replace(&mut self.looked, true),
            _ => false,
        }
    }

    /// Minutes of a reading with the way to it: what the table says that reaching its points takes, and what was
    /// done to come there.
    fn minutes_of(&self, reference: &Reference, step: &Step, reading: &Reading) -> f64 {
        let table = &reference.table;
        let known = table.find(reading);
        self.minutes + known.map_or(step.minutes, |n| table.measurements[n].minutes)
    }

    /// Something beside the best that could have been done instead.
    fn chosen(
        &self,
        reference: &Reference,
        suspects: &Suspects,
        bits: f64,
        minutes: f64,
    ) -> Result<Chosen, BenchError> {
        let best = reference.table.best(&suspects.living_roots(), self.now)?;
        Ok(Chosen {
            bits,
            minutes,
            best,
        })
    }

    /// The machine stands in a state, and has answered.
    fn arrive(&mut self, reference: &Reference, state: &str) {
        let mut states = reference.table.states.iter();
        self.now = states.position(|s| s.about == state);
        self.minutes = 0.0;
    }
}

/// Whether a step that is no reading asked the machine something of its own: a close look, a trial of the complaint.
/// What is moved, exchanged or taken apart is on the way to what asks next.
fn asks_by_itself(step: &Step) -> bool {
    matches!(step.answer, Answer::Seen { .. } | Answer::Complaint { .. })
}

/// Whether the machine was asked something after one step and before another.
pub(super) fn asked_between(steps: &[Step], after: usize, before: usize) -> bool {
    let mut between = steps.iter().filter(|s| s.no > after && s.no < before);
    between.any(|s| !matches!(s.evidence(), Evidence::Nothing | Evidence::OfMeter(_)))
}

/// A close look at a place, the voltage across the battery, or a code.
pub(super) fn looks(circuit: &Circuit, step: &Step) -> bool {
    match (&step.action, &step.answer) {
        (Action::Inspect(_), _) => true,
        (_, Answer::Reading { reading }) if reading.function == Function::SCAN_CODES => true,
        (_, Answer::Reading { reading }) if reading.function == Function::DC_VOLTS => {
            is_on_the_posts(circuit, reading)
        }
        _ => false,
    }
}

/// Whether the leads are on the battery's two posts.
pub(super) fn is_on_the_posts(circuit: &Circuit, reading: &Reading) -> bool {
    let node = |id: &Option<String>| {
        let point = id.as_deref().and_then(|id| circuit.test_point(id));
        point.map(|p| p.node)
    };
    let leads = [node(&reading.red), node(&reading.black)];
    let posts = [Some(circuit.positive()), Some(0)];
    leads == posts || leads == [posts[1], posts[0]]
}

/// Whether two readings ask the same.
fn same_question(a: &Reading, b: &Reading) -> bool {
    (a.function, &a.red, &a.black, &a.state) == (b.function, &b.red, &b.black, &b.state)
}

/// Whether a repair is one: a fuse that is renewed is tried, unless it is what was wrong.
pub(super) fn is_repair(lesson: &Lesson, step: &Step) -> bool {
    let Action::Repair(repair) = &step.action else {
        return false;
    };
    let fuse = match lesson.circuit.place(&repair.place) {
        Some(Place::Part(n)) => lesson.circuit.parts[n].kind.is_fuse(),
        _ => false,
    };
    !fuse
}

/// The steps until the machine was given back.
fn first_visit(steps: &[Step]) -> &[Step] {
    let given_back = |s: &Step| matches!(s.action, Action::SecondVisit(_));
    let end = steps.iter().position(given_back);
    &steps[..end.unwrap_or(steps.len())]
}

fn first_repair<'s>(lesson: &Lesson, steps: &'s [Step]) -> Option<&'s Step> {
    steps.iter().find(|s| is_repair(lesson, s))
}

/// The last naming before the first repair; with several faults, every place named before the last. Or the step at which
/// it was said that there is none, where that was the last word.
fn concluded(lesson: &Lesson, steps: &[Step]) -> (Vec<Named>, Option<usize>) {
    let steps = first_visit(steps);
    let several = lesson.faults.len() > 1;
    let repair = match several {
        true => steps.iter().rposition(|s| is_repair(lesson, s)),
        false => steps.iter().position(|s| is_repair(lesson, s)),
    };
    let before = &steps[..repair.unwrap_or(steps.len())];
    let mut words = before.iter().rev().filter(|s| {
        let none = s.action == Action::FindNoFault(FindNoFault {});
        none || matches!(s.action, Action::NameFault(_))
    });
    if let Some(last) = words.next()
        && last.action == Action::FindNoFault(FindNoFault {})
    {
        return (Vec::new(), Some(last.no));
    }
    let all = before.iter().filter_map(|s| match &s.action {
        Action::NameFault(NameFault {
            place,
            mode,
            because,
        }) => Some(Named {
            step: s.no,
            place: lesson.circuit.place(place),
            mode: mode.clone(),
            because: because.clone(),
        }),
        _ => None,
    });
    let mut out: Vec<Named> = Vec::new();
    for named in all {
        // The last word on a place counts, and no more places than there are faults.
        out.retain(|n| n.place != named.place);
        out.push(named);
        if out.len() > lesson.faults.len().max(1) {
            out.remove(0);
        }
    }
    (out, None)
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
        (Some(red), Some(black)) => spanned(circuit, red.node, black.node),
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
        again: false,
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
