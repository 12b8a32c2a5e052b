//! A bot at the bench: what it does, before it is written down what it expected and thought of each reading.

use std::collections::BTreeSet;

use cimento_bench::Bench;
use cimento_bench::instruments::{Function, Looks, Reading, take};
use cimento_diagnosis::attempt::actions::{
    Clear, ClearCodes, FindNoFault, HandIn, Inspect, NameFault, PutBack, Repair, SecondVisit,
    SetControl, TakeApart, TakeCapture, TakeReading, TryComplaint,
};
use cimento_diagnosis::attempt::{
    Action, Answer, RepairKind, Session, Step, Touch, brings_about, cures, repairs, stands, way_to,
};
use cimento_diagnosis::suspects::{Question, Reference, Suspects};
use cimento_model::circuit::Place;
use fastrand::Rng;

use super::{Bot, BotError, Choose, Clears, Mends, Names, writing};

/// Readings after which somebody without a plan gives up, and one who goes along the path.
const PATIENCE: usize = 12;
const PATIENCE_ON_A_PATH: usize = 40;
/// Below this a measurement tells nothing.
const TELLS_NOTHING_BITS: f64 = 0.02;
/// Places that are cleared at random after a reading, at most.
const AT_RANDOM: usize = 3;
/// Where a key feeds what it feeds.
const KEY: &str = "key";
const ON: &str = "run";
/// Parts that are renewed before the customer is sent away.
const PARTS: usize = 8;

pub(super) struct Student<'r> {
    reference: &'r Reference,
    bot: Bot,
    dice: Rng,
    session: Session,
    suspects: Suspects,
    /// Measurements of the table that were taken.
    taken: Vec<usize>,
    /// Points of the path that were not measured yet.
    path: Vec<String>,
    named: Vec<(Place, &'static str)>,
    healthy: Bench,
    /// The last reading that was not as a healthy machine's.
    telling: Option<Reading>,
}

impl<'r> Student<'r> {
    pub fn new(reference: &'r Reference, bot: Bot, seed: u64) -> Result<Self, BotError> {
        let suspects = reference.after_complaint.clone();
        Ok(Self {
            healthy: Bench::new(&reference.lesson.circuit, &[])?,
            telling: None,
            path: path_through(reference, &suspects.places()),
            session: Session::start(&reference.lesson),
            dice: Rng::with_seed(seed),
            taken: Vec::new(),
            named: Vec::new(),
            reference,
            suspects,
            bot,
        })
    }

    /// Does one thing and learns from the answer; what the bench refuses is left.
    fn act(&mut self, action: impl Into<Action>) -> Result<bool, BotError> {
        let Ok(step) = self.session.act(action.into()) else {
            return Ok(false);
        };
        if self.named.is_empty() {
            self.suspects.follow(step)?;
        }
        Ok(true)
    }

    fn is_sensible(&mut self) -> bool {
        self.dice.f64() < self.bot.sense
    }

    /// What is done to bring the lesson's condition about.
    fn brings_about_the_condition(&mut self) -> Result<(), BotError> {
        let condition = self.reference.lesson.condition();
        if let Some(action) = condition.and_then(brings_about) {
            self.act(action)?;
        }
        Ok(())
    }

    pub fn sees_the_complaint(&mut self) -> Result<(), BotError> {
        if self.bot.mends == Mends::PartsUntilGone {
            return Ok(());
        }
        self.brings_about_the_condition()?;
        self.act(TryComplaint {})?;
        if self.bot.choose != Choose::Nothing && self.is_sensible() {
            let circuit = &self.reference.lesson.circuit;
            let mut sources = circuit.parts.iter().filter(|p| p.kind.is_source());
            if let Some(source) = sources.next() {
                let place = source.id.clone();
                let before = self.suspects.places();
                self.act(Inspect { place })?;
                self.clears(&before)?;
            }
        }
        Ok(())
    }

    pub fn measures(&mut self) -> Result<(), BotError> {
        match self.bot.choose {
            Choose::Nothing => return Ok(()),
            Choose::Battery => {
                let circuit = &self.reference.lesson.circuit;
                let positive = circuit.positive_name().to_owned();
                self.read(Function::DC_VOLTS, &positive, negative(self.reference))?;
                return self.clears(&self.suspects.places());
            }
            Choose::Plan => {
                for step in &self.reference.plan.steps {
                    let states = self.reference.table.states.iter();
                    let mut same = states
                        .enumerate()
                        .filter(|(_, s)| s.about == step.measure.state);
                    let Some((state, _)) = same.next() else {
                        continue;
                    };
                    self.asks(state, &step.measure.question)?;
                }
                return Ok(());
            }
            _ => {}
        }
        let patience = match self.bot.choose {
            Choose::InOrder => PATIENCE_ON_A_PATH,
            _ => PATIENCE,
        };
        let mut readings = 0;
        while !self.reference.is_proven(&self.suspects) && readings < patience {
            let Some(next) = self.chooses()? else { break };
            self.taken.push(next);
            let m = &self.reference.table.measurements[next];
            self.asks(m.state, &m.question)?;
            readings += 1;
        }
        Ok(())
    }

    fn chooses(&mut self) -> Result<Option<usize>, BotError> {
        let best = match self.bot.choose {
            Choose::InOrder => self.along_the_path(),
            Choose::Halving => self.most(|bits| bits)?,
            Choose::Telling => {
                let dice = &mut self.dice.clone();
                let any = self.most(|bits| {
                    if bits < TELLS_NOTHING_BITS {
                        0.0
                    } else {
                        dice.f64()
                    }
                })?;
                self.dice.f64();
                any
            }
            Choose::Random => Some(self.anything()),
            Choose::Mixed(chance) => match self.dice.f64() < chance {
                true => None,
                false => Some(self.anything()),
            },
            _ => None,
        };
        if best.is_some() {
            return Ok(best);
        }
        let alive = self.suspects.living_roots();
        let now = self.state_now();
        let best = self.reference.table.best_but(&alive, now, &self.taken)?;
        Ok(best.map(|c| c.measurement))
    }

    fn anything(&mut self) -> usize {
        self.dice.usize(0..self.reference.table.beforehand())
    }

    /// The measurement for which a score of its worth is highest; none where that is nothing.
    fn most(&self, mut score: impl FnMut(f64) -> f64) -> Result<Option<usize>, BotError> {
        let table = &self.reference.table;
        let alive = self.suspects.living_roots();
        let mut best: Option<(f64, usize)> = None;
        for n in (0..table.beforehand()).filter(|n| !self.taken.contains(n)) {
            let bits = table.information_gain(n, &alive)?;
            let worth = score(bits);
            if bits >= TELLS_NOTHING_BITS && best.is_none_or(|(most, _)| worth > most) {
                best = Some((worth, n));
            }
        }
        Ok(best.map(|(_, n)| n))
    }

    /// The next point of the path, in the state of the table in which the path says most.
    fn along_the_path(&mut self) -> Option<usize> {
        let table = &self.reference.table;
        while !self.path.is_empty() {
            let point = self.path.remove(0);
            let alive = self.suspects.living_roots();
            let of_point = |n: &usize| {
                let question = &table.measurements[*n].question;
                let held = question.held();
                held.is_some_and(|(f, red, black)| {
                    f == Function::DC_VOLTS
                        && red == Some(point.as_str())
                        && black == Some(negative(self.reference))
                })
            };
            let all = (0..table.beforehand()).filter(of_point);
            let worth = |n: &usize| table.information_gain(*n, &alive).unwrap_or(0.0);
            let best = all.max_by(|a, b| worth(a).total_cmp(&worth(b)));
            if let Some(best) = best.filter(|n| !self.taken.contains(n)) {
                return Some(best);
            }
        }
        None
    }

    /// The state of the table that the machine stands in.
    fn state_now(&self) -> Option<usize> {
        let now = self.session.bench().state().about();
        let mut states = self.reference.table.states.iter();
        states.position(|s| s.about == now)
    }

    /// Brings the machine to a state of the table.
    fn goes_to(&mut self, state: usize) -> Result<(), BotError> {
        let wanted = &self.reference.table.states[state];
        if self.session.bench().state().about() == wanted.about {
            return Ok(());
        }
        for action in way_to(self.session.bench(), &wanted.actions) {
            if !stands(&action, self.session.bench().state()) {
                self.act(action)?;
            }
        }
        Ok(())
    }

    /// Puts a question to the machine in a state of the table, and clears what is thought to be ruled out.
    fn asks(&mut self, state: usize, question: &Question) -> Result<(), BotError> {
        self.goes_to(state)?;
        let before = self.suspects.places();
        match question {
            Question::Reading {
                function,
                red,
                black,
            } => self.read_at(*function, red, black.as_deref())?,
            Question::Screen { scope } => {
                let scope = scope.clone();
                let expected = vec![Looks::default(); scope.channels.len()];
                self.act(TakeCapture {
                    scope,
                    expected,
                    partner_expected: Vec::new(),
                })?;
            }
            Question::Exchange { .. } => {
                for action in question.actions() {
                    self.act(action)?;
                }
            }
        }
        self.clears(&before)
    }

    fn read(&mut self, function: Function, red: &str, black: &str) -> Result<(), BotError> {
        self.read_at(function, red, Some(black))
    }

    fn read_at(
        &mut self,
        function: Function,
        red: &str,
        black: Option<&str>,
    ) -> Result<(), BotError> {
        let taken = self.act(TakeReading {
            function,
            range: None,
            red: Some(red.to_owned()),
            black: black.map(str::to_owned),
            // What is expected is written down later.
            expected: Some(writing::nothing(function.unit())),
            supposing: None,
            touch: Touch::default(),
            partner: None,
        })?;
        let last = self.session.steps().last().map(|s| &s.answer);
        if let (true, Some(Answer::Reading { reading })) = (taken, last) {
            self.healthy.set(self.session.bench().state().clone())?;
            let sound = take(&self.healthy, function, None, Some(red), black);
            if sound.is_ok_and(|sound| sound.shown.text != reading.shown.text) {
                self.telling = Some(reading.clone());
            }
        }
        Ok(())
    }

    /// Clears after a reading, before which some places were possible.
    fn clears(&mut self, before: &BTreeSet<Place>) -> Result<(), BotError> {
        let circuit = &self.reference.lesson.circuit;
        let left = self.suspects.places();
        let sensible = self.is_sensible();
        let clears = match self.bot.clears {
            Clears::RuledOut if !sensible => Clears::Random,
            as_it_is => as_it_is,
        };
        let places: Vec<Place> = match clears {
            Clears::Nothing => Vec::new(),
            Clears::RuledOut => before.difference(&left).copied().collect(),
            Clears::Everything => left.iter().skip(1).copied().collect(),
            Clears::Random => {
                let left: Vec<Place> = left.into_iter().collect();
                let count = self.dice.usize(0..=AT_RANDOM.min(left.len()));
                let chosen = (0..count).map(|_| left[self.dice.usize(0..left.len())]);
                chosen.collect()
            }
        };
        if !places.is_empty() {
            let id = |p: &Place| circuit.place_id(*p).to_owned();
            let places = places.iter().map(id).collect();
            self.act(Clear { places })?;
        }
        Ok(())
    }

    /// That nothing is wrong is likelier than any place.
    fn thinks_it_sound(&self) -> bool {
        let weights = self.suspects.weights();
        let sound = weights.get(&None).copied();
        let at_places = weights.iter().filter(|(place, _)| place.is_some());
        let most = at_places.map(|(_, w)| *w).fold(0.0, f64::max);
        sound.is_some_and(|sound| sound > most)
    }

    pub fn names(&mut self) -> Result<(), BotError> {
        let lesson = &self.reference.lesson;
        let circuit = &lesson.circuit;
        let own = lesson.faults.first();
        let sensible = self.is_sensible();
        let names = match self.bot.names {
            Names::Likeliest if !sensible => Names::Random,
            as_it_is => as_it_is,
        };
        let likeliest = |(place, _)| Some((place, self.suspects.likeliest_mode(place)?));
        let named: Vec<(Place, &'static str)> = match names {
            Names::Nobody => Vec::new(),
            // As many as there are things wrong: the work order says whether it is one. That nothing is wrong may be
            // likelier than any of them.
            Names::Likeliest if self.thinks_it_sound() => Vec::new(),
            Names::Likeliest => {
                let belief = self.suspects.belief().into_iter();
                belief
                    .take(lesson.faults.len().max(1))
                    .filter_map(likeliest)
                    .collect()
            }
            Names::Right => own.map(|f| (f.place, f.mode.name())).into_iter().collect(),
            Names::Wrong => {
                let all = self.suspects.places();
                let mut wrong = all.difference(&self.reference.group);
                let first = wrong.next().copied();
                first
                    .map(|p| (p, circuit.modes(p)[0].name))
                    .into_iter()
                    .collect()
            }
            Names::Random => {
                let all: Vec<Place> = circuit.places().collect();
                let place = all[self.dice.usize(0..all.len())];
                let modes = circuit.modes(place);
                match modes.is_empty() {
                    true => Vec::new(),
                    false => vec![(place, modes[self.dice.usize(0..modes.len())].name)],
                }
            }
        };
        // Nothing is left that could be wrong, or somebody knows that nothing is.
        let sound = match names {
            Names::Likeliest => self.thinks_it_sound(),
            Names::Right => own.is_none(),
            Names::Wrong | Names::Random | Names::Nobody => false,
        };
        if sound {
            self.act(FindNoFault {})?;
        }
        for (place, mode) in named {
            let naming = NameFault {
                place: circuit.place_id(place).to_owned(),
                mode: mode.to_owned(),
                because: Vec::new(),
            };
            if self.session.act(naming.into()).is_ok() {
                self.named.push((place, mode));
            }
        }
        Ok(())
    }

    pub fn mends(&mut self) -> Result<(), BotError> {
        match self.bot.mends {
            Mends::Nothing => Ok(()),
            Mends::PartsUntilGone => self.renews_until_it_works(),
            Mends::AndProves => {
                for (place, mode) in self.named.clone() {
                    self.repairs(place, mode)?;
                }
                match self.named.is_empty() {
                    true => Ok(()),
                    false => self.proves(),
                }
            }
        }
    }

    fn repairs(&mut self, place: Place, mode: &str) -> Result<(), BotError> {
        let circuit = &self.reference.lesson.circuit;
        let spec = circuit.modes(place).iter().find(|m| m.name == mode);
        let kinds = repairs(circuit, place);
        let cure = kinds
            .iter()
            .find(|how| spec.is_some_and(|spec| cures(circuit, place, spec, **how)));
        let Some(how) = cure.or(kinds.first()) else {
            return Ok(());
        };
        // Nobody works on cables with the battery on.
        let mut sources = circuit.parts.iter().filter(|p| p.kind.is_source());
        let source = sources.next().map_or("", |p| p.id.as_str()).to_owned();
        let what = source.clone();
        let off = self.act(TakeApart { what })?;
        self.act(Repair::that_lasts(
            &self.reference.lesson,
            circuit.place_id(place),
            *how,
        ))?;
        if off {
            self.act(PutBack { what: source })?;
        }
        // A module may go on as it did until what it has stored is cleared, which takes its supply.
        let modules = circuit.parts.iter().filter(|p| p.kind.module().is_some());
        if modules.count() > 0 {
            self.turns_the_key_on()?;
        }
        for part in circuit.parts.iter().filter(|p| p.kind.module().is_some()) {
            let module = part.id.clone();
            self.act(ClearCodes { module })?;
        }
        // A part that stands behind a fuse that has gone does nothing before there is a new one.
        let blown: Vec<String> = self.blown();
        for place in blown {
            let how = RepairKind::Renew;
            self.act(Repair::that_lasts(&self.reference.lesson, &place, how))?;
        }
        Ok(())
    }

    fn turns_the_key_on(&mut self) -> Result<(), BotError> {
        let controls = self.reference.lesson.circuit.controls();
        let key = controls.iter().find(|c| c.name == KEY);
        if key.is_some_and(|k| k.positions.iter().any(|p| p == ON)) {
            let (control, position) = (KEY.to_owned(), ON.to_owned());
            self.act(SetControl { control, position })?;
        }
        Ok(())
    }

    fn blown(&self) -> Vec<String> {
        let circuit = &self.reference.lesson.circuit;
        let parts = circuit.parts.iter().zip(self.session.bench().parts());
        let blown = parts.filter(|(p, s)| p.kind.is_fuse() && s.level != 0);
        blown.map(|(p, _)| p.id.clone()).collect()
    }

    /// Tries the complaint, and repeats the reading that told most.
    fn proves(&mut self) -> Result<(), BotError> {
        self.goes_to(0)?;
        self.brings_about_the_condition()?;
        self.act(TryComplaint {})?;
        let Some(reading) = self.telling.take() else {
            return Ok(());
        };
        let states = &self.reference.table.states;
        if let Some(state) = states.iter().position(|s| s.about == reading.state) {
            self.goes_to(state)?;
        }
        let red = reading.red.unwrap_or_default();
        self.read_at(reading.function, &red, reading.black.as_deref())
    }

    fn renews_until_it_works(&mut self) -> Result<(), BotError> {
        let lesson = &self.reference.lesson;
        let circuit = &lesson.circuit;
        let mut suspects: Vec<Place> = self.suspects.places().into_iter().collect();
        self.dice.shuffle(&mut suspects);
        // Parts come to mind before wires.
        suspects.sort_by_key(|p| matches!(p, Place::Conductor(_)));
        for place in suspects.into_iter().take(PARTS) {
            let how = *repairs(circuit, place)
                .first()
                .unwrap_or(&RepairKind::Renew);
            let place = circuit.place_id(place).to_owned();
            self.act(Repair::that_lasts(&self.reference.lesson, &place, how))?;
            self.brings_about_the_condition()?;
            self.act(TryComplaint {})?;
            let steps = self.session.steps();
            if let Some(Answer::Complaint { complaint }) = steps.last().map(|s| &s.answer)
                && complaint.same_as(&lesson.healthy_symptom)
            {
                break;
            }
        }
        Ok(())
    }

    /// Hands in; every action that was done.
    pub fn handed_in(mut self) -> Result<Vec<Action>, BotError> {
        let repaired = |s: &Step| matches!(s.action, Action::Repair(_));
        let lesson = &self.reference.lesson;
        if lesson.craft.is_some() && self.session.steps().iter().any(repaired) {
            self.act(SecondVisit {})?;
        }
        self.act(HandIn {})?;
        let steps = self.session.steps().iter();
        Ok(steps.map(|s| s.action.clone()).collect())
    }
}

fn negative(reference: &Reference) -> &str {
    let point = reference.lesson.circuit.point_at(0);
    point.map_or("", |p| p.id.as_str())
}

/// The test points of the path on which most of some places lie, from the battery on.
fn path_through(reference: &Reference, places: &BTreeSet<Place>) -> Vec<String> {
    let circuit = &reference.lesson.circuit;
    let held = |path: &&cimento_model::circuit::CurrentPath| {
        let through = path.stops.iter().filter_map(|s| s.through.as_deref());
        let known = through.filter_map(|id| circuit.place(id));
        known.collect::<BTreeSet<_>>().intersection(places).count()
    };
    let path = circuit.paths().iter().max_by_key(held);
    let stops = path.map_or(&[][..], |p| &p.stops);
    let reachable = stops.iter().filter(|s| s.reachable);
    reachable.map(|s| s.point.clone()).collect()
}
