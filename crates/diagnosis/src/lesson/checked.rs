//! A checked lesson, with what is known of its machine before anybody works at it.

use super::trial::{Trial, condition_of};
use super::{
    Intro, IntroShown, Job, LESSON_FORMAT, LessonDoc, Limits, Means, Method, Papers, Prices,
    Purpose, Skill, Task, Told, Weights,
};
use cimento_bench::Bench;
use cimento_bench::BenchError;
use cimento_bench::Complaint;
use cimento_bench::Shared;
use cimento_bench::instruments::{Function, Scope, TakeError};
use cimento_model::circuit::Circuit;
use cimento_model::circuit::Problem;
use cimento_model::circuit::Refused;
use cimento_model::circuit::read_json;
use cimento_model::faults::{Condition, Fault, FaultDoc};
use cimento_model::state::OperatingState;
use cimento_parts::build_circuit;

use crate::binder::{Binder, HealthySheet, healthy_sheets};
use crate::build::{ToBuild, to_build};
use crate::craft::Craft;
use crate::predict::{Patterns, Truth, patterns, truths};
use crate::test_sheet::{TestSheet, check_sheet, identification, survey};
use std::sync::Arc;

/// Longest time limit, in minutes.
const LONGEST_MINUTES: f64 = 600.0;
/// More faults than this in one lesson are a mistake.
const MOST_FAULTS: usize = 10;

/// A checked lesson, with what is known of its machine before anybody works at it.
pub struct Lesson {
    pub title: String,
    /// The complaint in the customer's words.
    pub words: String,
    pub circuit: Arc<Circuit>,
    pub faults: Vec<Fault>,
    pub purpose: Purpose,
    pub job: Job,
    pub task: Task,
    /// The readings that are predicted, and what they come to.
    pub predicted: Vec<Truth>,
    /// The sheet that is worked at the machine, where the lesson asks for one.
    pub test_sheet: Option<TestSheet>,
    /// What is to be wired, where the lesson asks for that.
    pub build: Option<ToBuild>,
    pub predictions: bool,
    pub meter_seed: u64,
    pub functions: Vec<Function>,
    pub scope: bool,
    pub forbidden: Vec<Means>,
    pub papers: Papers,
    pub method: Method,
    pub limit_minutes: Option<f64>,
    pub limits: Limits,
    pub weights: Weights,
    /// It counts how the repair is made.
    pub craft: Option<Craft>,
    /// What the customer and the workshop's book say.
    pub told: Told,
    /// Plugs that look alike can be mixed up.
    pub look_alikes: bool,
    /// The papers, where they come as a binder.
    pub binder: Option<Binder>,
    /// What minutes and parts cost the customer.
    pub prices: Option<Prices>,
    /// Skills that it declares.
    pub skills: Vec<Skill>,
    pub intro: Option<IntroShown>,
    /// What the machine does with the fault, under its condition.
    pub symptom: Complaint,
    /// What it does without it.
    pub healthy_symptom: Complaint,
    /// The two differ: something is noticed from the seat.
    pub noticed: bool,
    /// What it reads at its test points when healthy; empty where the papers do not hold it.
    pub sheets: Vec<HealthySheet>,
    /// What can be unplugged, pulled by hand, or undone at a ground.
    pub comes_apart: Vec<String>,
    /// Pairs of parts that can be exchanged.
    pub alike: Vec<[String; 2]>,
    /// The machine as the customer brings it in: tried, so that a fuse may have blown, and at rest again.
    brought_in: Bench,
}

impl Lesson {
    /// Checks a lesson document.
    ///
    /// # Errors
    /// [`Refused`] with the path of every mistake, also when the fault does not show in the
    /// complaint: a lesson needs something to find.
    pub fn new(doc: LessonDoc) -> Result<Arc<Self>, Refused> {
        let refuse = |path: &str, message: String| Refused(vec![Problem::refused(path, message)]);
        if doc.format != LESSON_FORMAT {
            return Err(refuse(
                "format",
                format!("“{}” is not a lesson: expected {LESSON_FORMAT}", doc.format),
            ));
        }
        if doc.version != 1 {
            return Err(refuse(
                "version",
                format!("version {} cannot be read: expected 1", doc.version),
            ));
        }
        if doc.title.trim().is_empty() {
            return Err(refuse("title", "expected a title".to_owned()));
        }
        let healthy = doc.purpose == Purpose::Tools;
        if healthy && !doc.faults.is_empty() {
            return Err(refuse(
                "faults",
                "a bench for trying the tools is healthy: expected no faults".to_owned(),
            ));
        }
        let seeks_fault = doc.seeks_fault();
        let least = usize::from(seeks_fault && !doc.job.may_be_sound());
        if !(least..=MOST_FAULTS).contains(&doc.faults.len()) {
            return Err(refuse(
                "faults",
                format!("expected {least} to {MOST_FAULTS} faults"),
            ));
        }
        if doc
            .limit_minutes
            .is_some_and(|m| !(1.0..=LONGEST_MINUTES).contains(&m))
        {
            let text = format!("expected 1 to {LONGEST_MINUTES} minutes");
            return Err(refuse("limit_min", text));
        }
        doc.limits
            .check()
            .map_err(|message| refuse("limits", message))?;
        doc.method
            .check()
            .map_err(|message| refuse("method", message))?;
        doc.weights
            .check()
            .map_err(|message| refuse("weights", message))?;
        if let Some(craft) = &doc.craft {
            let made = match seeks_fault {
                true => craft.check(),
                false => Err("how a repair is made counts where a fault is looked for".to_owned()),
            };
            made.map_err(|message| refuse("craft", message))?;
        }
        let intro = doc.intro.as_ref().map(Intro::shown).transpose();
        let intro = intro.map_err(|p| Refused(vec![p]))?;
        let circuit = build_circuit(doc.circuit).map_err(|Refused(problems)| {
            let within = problems.into_iter().map(|p| Problem {
                path: format!("circuit.{}", p.path),
                ..p
            });
            Refused(within.collect())
        })?;
        doc.told.check().map_err(|p| Refused(vec![p]))?;
        if let Some(prices) = &doc.prices {
            prices.check(&circuit).map_err(|p| Refused(vec![p]))?;
        }
        if doc.binder.is_some() && !seeks_fault {
            let text = "a binder comes with a machine on which a fault is looked for".to_owned();
            return Err(refuse("binder", text));
        }
        let binder = doc
            .binder
            .map(|b| b.checked(&circuit, doc.papers.diagram))
            .transpose()?;
        let faults = read_faults(&circuit, &doc.faults)?;
        let trial = Trial {
            circuit: &circuit,
            condition: condition_of(&faults),
        };
        let unsolved = |e: BenchError| refuse("circuit", e.to_string());
        let shared = Shared::default().mixing_plugs(doc.look_alikes);
        let (brought_in, symptom) = trial.run(&faults, &shared).map_err(unsolved)?;
        let (sound, healthy_symptom) = trial.run(&[], &shared).map_err(unsolved)?;
        let noticed = !symptom.same_as(&healthy_symptom);
        if !noticed && !faults.is_empty() && seeks_fault {
            if !doc.job.is_check_up() {
                return Err(refuse(
                    "faults",
                    "with this fault the machine behaves as if it were healthy: choose one that shows, or let it come in for a check-up"
                        .to_owned(),
                ));
            }
            let measured = [&sound, &brought_in];
            if !trial
                .measures(measured, &doc.limits, &doc.functions)
                .map_err(unsolved)?
            {
                return Err(refuse(
                    "faults",
                    "no measurement that this lesson allows shows this fault: choose a worse one, or allow more instruments"
                        .to_owned(),
                ));
            }
        }
        if healthy && !doc.task.is_diagnosis() {
            let text = "a sheet is worked in a lesson that is marked, or for practice";
            return Err(refuse("task", text.to_owned()));
        }
        let of_task = |problem: Problem| Refused(vec![problem]);
        let predicted = match &doc.task {
            Task::Predict(predict) => {
                truths(&circuit, &faults, &doc.limits, predict).map_err(of_task)?
            }
            _ => Vec::new(),
        };
        let test_sheet = match &doc.task {
            Task::Diagnose | Task::Predict(_) | Task::Build(_) => None,
            Task::Survey(asked) => {
                Some(survey(&circuit, &faults, &doc.limits, asked).map_err(of_task)?)
            }
            Task::CheckSheet(asked) => {
                let under = |state| trial.under_condition(state);
                let sheet = check_sheet(&circuit, &faults, &doc.limits, &under, asked);
                Some(sheet.map_err(of_task)?)
            }
            Task::Identify(_) if !faults.is_empty() => {
                let text = "what is to be told apart is healthy: expected no faults";
                return Err(refuse("faults", text.to_owned()));
            }
            Task::Identify(asked) => {
                Some(identification(&circuit, doc.meter_seed, asked).map_err(of_task)?)
            }
        };
        let build = match &doc.task {
            Task::Build(_) if !faults.is_empty() => {
                let text = "what is to be built is as it should be: expected no faults";
                return Err(refuse("faults", text.to_owned()));
            }
            Task::Build(asked) => Some(to_build(&circuit, asked).map_err(of_task)?),
            _ => None,
        };
        let mut brought_in = brought_in;
        if let Some(build) = &build {
            brought_in = Bench::new(&build.start, &[]).map_err(unsolved)?;
        }
        if let Some(sheet) = &test_sheet
            && sheet.laid_out
        {
            brought_in.set(sheet.state.clone()).map_err(unsolved)?;
        }
        let measures = test_sheet.as_ref().map(|sheet| sheet.function);
        if measures.is_some_and(|needed| !doc.functions.contains(&needed)) {
            let text = "the sheet is measured with an instrument that this lesson does not allow";
            return Err(refuse("functions", text.to_owned()));
        }
        Ok(Arc::new(Self {
            title: doc.title,
            words: doc.complaint,
            sheets: match doc.papers.healthy {
                true => healthy_sheets(&circuit).map_err(unsolved)?,
                false => Vec::new(),
            },
            comes_apart: {
                let undone = circuit.undone().cloned();
                circuit.comes_apart().into_iter().chain(undone).collect()
            },
            alike: circuit.alike(),
            circuit,
            faults,
            purpose: doc.purpose,
            job: doc.job,
            task: doc.task,
            predicted,
            test_sheet,
            build,
            predictions: doc.predictions,
            meter_seed: doc.meter_seed,
            functions: doc.functions,
            scope: doc.scope,
            forbidden: doc.forbidden,
            papers: doc.papers,
            method: doc.method,
            limit_minutes: doc.limit_minutes,
            limits: doc.limits,
            weights: doc.weights,
            craft: doc.craft,
            told: doc.told,
            look_alikes: doc.look_alikes,
            binder,
            prices: doc.prices,
            skills: doc.skills,
            intro,
            symptom,
            healthy_symptom,
            noticed,
            brought_in,
        }))
    }

    /// Reads and checks a JSON document.
    ///
    /// # Errors
    /// As [`Lesson::new`].
    pub fn read(text: &str) -> Result<Arc<Self>, Refused> {
        Self::new(read_json(text)?)
    }

    /// A fault is looked for: it has suspects, a plan, and a place that the marks go by.
    pub fn seeks_fault(&self) -> bool {
        self.purpose != Purpose::Tools && self.task.is_diagnosis()
    }

    /// "W8 open"; "none" when it is sound.
    pub fn fault_in_words(&self) -> String {
        in_words(&self.circuit, &self.faults)
    }

    /// The condition under which the complaint shows, if there is one: that of the faults, when none of
    /// them is there always.
    pub fn condition(&self) -> Option<Condition> {
        condition_of(&self.faults)
    }

    /// A state with the lesson's condition brought about: warm, wet, or everything moved, so that the
    /// trial does not tell the place. Vibration comes with the running engine.
    pub fn under_condition(&self, state: OperatingState) -> OperatingState {
        self.trial().under_condition(state)
    }

    /// Pictures among which one chooses what a screen of its machine will show in a state.
    ///
    /// # Errors
    /// [`TakeError`] where a healthy machine has no such screen.
    pub fn patterns(
        &self,
        state: &OperatingState,
        scope: &Scope,
    ) -> Result<Vec<Patterns>, TakeError> {
        patterns(&self.circuit, self.brought_in().shared(), state, scope)
    }

    /// The machine as it was brought in, on one solver with all that stand beside it: they are many, and
    /// each works for a moment only.
    pub(crate) fn brought_in_for_a_class(&self) -> Bench {
        self.brought_in.clone()
    }

    /// The machine as the customer brings it in, for a thread of its own.
    pub(crate) fn brought_in(&self) -> Bench {
        self.brought_in.for_another_thread()
    }

    /// What is tried of the machine before it comes in, for it and for those that it may be.
    pub(crate) fn trial(&self) -> Trial<'_> {
        Trial {
            circuit: &self.circuit,
            condition: self.condition(),
        }
    }
}

fn read_faults(circuit: &Circuit, docs: &[FaultDoc]) -> Result<Vec<Fault>, Refused> {
    let mut faults = Vec::new();
    for (n, fault) in docs.iter().enumerate() {
        let fault = Fault::read(circuit, fault, &format!("faults[{n}]"));
        faults.push(fault.map_err(|p| Refused(vec![p]))?);
    }
    Ok(faults)
}

fn in_words(circuit: &Circuit, faults: &[Fault]) -> String {
    if faults.is_empty() {
        return "none: the machine is sound".to_owned();
    }
    let faults: Vec<String> = faults.iter().map(|f| f.about(circuit)).collect();
    faults.join("; ")
}

impl LessonDoc {
    /// "W8 open", without trying the machine; empty on a bench for trying the tools.
    ///
    /// # Errors
    /// [`Refused`] when its circuit or a fault of it is none.
    pub fn fault_in_words(&self) -> Result<String, Refused> {
        if self.purpose == Purpose::Tools {
            return Ok(String::new());
        }
        let circuit = build_circuit(self.circuit.clone())?;
        Ok(in_words(&circuit, &read_faults(&circuit, &self.faults)?))
    }
}
