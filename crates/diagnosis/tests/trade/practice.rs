//! Practice with hints, and the bench for trying the tools.

use cimento_diagnosis::attempt::actions::{
    Clear, HandIn, Hint, Judge, NameFault, Repair, SetControl, Suspect,
};
use std::sync::Arc;

use crate::common;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::{Action, RepairKind, Session, Verdict};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Purpose, experiments};
use cimento_diagnosis::marking::{Case, corrected};
use cimento_diagnosis::suspects::{hint, next_level};
use cimento_model::circuit::Circuit;

fn lesson(circuit: &Arc<Circuit>, fault: Option<&str>, purpose: Purpose) -> Arc<Lesson> {
    let faults = fault.map(|f| common::fault(circuit, f).doc(circuit));
    let doc = LessonDoc::of(
        "Practice",
        circuit.doc.clone(),
        faults.into_iter().collect(),
    );
    common::shared(LessonDoc { purpose, ..doc })
}

fn volts(red: &str) -> Action {
    common::reading(Function::DC_VOLTS, red, Some("BAT.-"), None)
}

fn set(control: &str, position: &str) -> Action {
    Action::SetControl(SetControl {
        control: control.to_owned(),
        position: position.to_owned(),
    })
}

#[test]
fn hints_go_from_a_question_to_the_next_best_measurement_and_back() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, Some("W10:open"), Purpose::Practice);
    let reference = common::reference(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    let mut costs = Vec::new();
    let mut ask = |session: &mut Session| {
        let level = next_level(session.steps());
        let text = hint(&reference, session.steps(), level).unwrap();
        let given = Action::Hint(Hint {
            level,
            text: text.clone(),
        });
        costs.push(session.act(given).unwrap().minutes);
        text
    };
    let question = ask(&mut session);
    assert!(
        question.contains("still possible. Which point"),
        "{question}"
    );
    // A question names no place.
    for place in circuit.places() {
        let id = circuit.place_id(place);
        assert!(
            !question.split([' ', ',', '.']).any(|w| w == id),
            "{id}: {question}"
        );
    }
    let suspects = ask(&mut session);
    assert!(suspects.starts_with("Still possible"), "{suspects}");
    assert!(suspects.contains("W10"), "{suspects}");
    let best = ask(&mut session);
    let plan = reference.plan.steps[0].measure.sentence();
    assert!(
        best.contains(&plan) && best.contains("would leave"),
        "{best}"
    );
    assert_eq!(ask(&mut session), best, "there is no fourth level");
    // After a measurement it begins with a question again, about what that has cleared.
    session.act(set("work lamps", "on")).unwrap();
    session.act(volts("C5.1f")).unwrap();
    let question = ask(&mut session);
    assert!(question.contains("that you have not marked"), "{question}");
    let suspects = ask(&mut session);
    assert!(
        suspects.contains("Cleared by what you know: "),
        "{suspects}"
    );
    session.act(volts("H1.2")).unwrap();
    session.act(volts("H1.1")).unwrap();
    ask(&mut session);
    let named = ask(&mut session);
    assert_eq!(named, "Only W10 is left: name the fault.");
    assert_eq!(costs, [1.0, 2.0, 5.0, 5.0, 1.0, 2.0, 1.0, 2.0]);
    assert_eq!(session.view().hints.len(), 8);
}

/// What is wrong is said at once, and only of what was said or mended; a claim that is taken back at once is none.
#[test]
fn practice_says_at_once_what_is_wrong() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, Some("W10:open"), Purpose::Practice);
    let reference = common::reference(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    let mut wrong_after = |action: Action| -> Vec<String> {
        session.act(action).unwrap();
        let case = Case::new(&reference, session.steps()).unwrap();
        let told = corrected(&case);
        told.into_iter()
            .map(|c| format!("{} {}", c.step, c.text))
            .collect()
    };
    let places = |ids: &[&str]| ids.iter().map(|id| (*id).to_owned()).collect();
    let judge = |verdict| Action::Judge(Judge { step: 2, verdict });
    let mend = |place: &str| Action::Repair(Repair::of(place, RepairKind::Join));
    assert!(wrong_after(set("work lamps", "on")).is_empty());
    // The feed is there before the break: nothing is said before it is judged.
    assert!(wrong_after(volts("C5.1f")).is_empty());
    let told = wrong_after(judge(Verdict::TooLow));
    assert!(
        told[0].starts_with("3 Judged too low;") && told[0].contains("is normal"),
        "{told:?}"
    );
    assert!(
        wrong_after(judge(Verdict::Normal)).is_empty(),
        "it was taken back at once"
    );
    let told = wrong_after(Action::Clear(Clear {
        places: places(&["H1"]),
    }));
    assert!(
        told[0].starts_with("5 You ruled out H1 too soon:"),
        "{told:?}"
    );
    assert!(
        wrong_after(Action::Suspect(Suspect {
            places: places(&["H1"])
        }))
        .is_empty()
    );
    let told = wrong_after(mend("W13"));
    assert!(
        told[0].starts_with("7 W13 was mended, and nothing was wrong with it"),
        "{told:?}"
    );
    assert_eq!(wrong_after(mend("W10")), told, "the right one adds nothing");
}

#[test]
fn hints_are_for_practice_alone() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, Some("W10:open"), Purpose::Marks);
    let mut session = Session::start(&lesson);
    let level = 1;
    let text = "Look at W10.".to_owned();
    let refused = session.act(Action::Hint(Hint { level, text })).unwrap_err();
    assert!(refused.to_string().contains("practice"), "{refused}");
}

#[test]
fn the_tools_can_be_tried_on_a_healthy_machine() {
    let circuit = common::demo("ground-power-unit-cabin");
    let found = experiments(&circuit).unwrap();
    let titles: Vec<&str> = found.iter().map(|e| e.title.as_str()).collect();
    assert_eq!(
        titles,
        [
            "A voltage that carries nothing",
            "A lamp that lights too easily",
            "A beep through a load",
            "Current without opening the circuit",
        ]
    );
    let lesson = lesson(&circuit, None, Purpose::Tools);
    let mut session = Session::start(&lesson);
    for action in [
        Action::HandIn(HandIn {}),
        Action::NameFault(NameFault {
            place: "W8".to_owned(),
            mode: "open".to_owned(),
            because: Vec::new(),
        }),
    ] {
        let refused = session.act(action).unwrap_err().to_string();
        assert!(refused.contains("healthy"), "{refused}");
    }
    assert_eq!(session.steps().len(), 0);
}

/// What an experiment promises is what the instruments show when a student does as it says: each
/// sentence is taken at its word.
#[test]
fn an_experiment_does_what_it_promises() {
    let mut promised = 0;
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        for experiment in experiments(&circuit).unwrap() {
            let mut bench = common::with(&circuit, &[], &[]);
            for step in &experiment.steps {
                let words: Vec<&str> = step.trim_end_matches('.').split(' ').collect();
                let word = |after: &str| {
                    let at = words.iter().position(|w| *w == after);
                    words[at.unwrap() + 1].trim_end_matches([',', ':'])
                };
                let say = |what: &str| format!("{name}: {step} {what}");
                let mut state = bench.state().clone();
                match words[0] {
                    "Put" if words[1] == "the" && step.contains(" to ") => {
                        let (control, position) =
                            step[8..step.len() - 1].split_once(" to ").unwrap();
                        state.set_control(control, position.to_owned());
                        bench.set(state).unwrap();
                    }
                    "Take" => {
                        state.take_apart(&circuit, words[1]);
                        bench.set(state).unwrap();
                    }
                    "Pull" => {
                        for fuse in &words[1..] {
                            state.take_apart(&circuit, fuse.trim_end_matches(','));
                        }
                        bench.set(state).unwrap();
                    }
                    "Read" if step.contains("DC volts") => {
                        let text =
                            common::shown(&bench, Function::DC_VOLTS, word("from"), word("to"));
                        let read = text.value.text(Function::DC_VOLTS.unit());
                        assert!(step.ends_with(&format!("{read}.")), "{}", say(&read));
                        let lamp =
                            common::shown(&bench, Function::TEST_LAMP, word("from"), word("to"));
                        assert_eq!(lamp.text, "off", "{}", say("the lamp"));
                        promised += 1;
                    }
                    "Put" if step.contains("LED") => {
                        let led =
                            common::shown(&bench, Function::LED_LAMP, word("between"), word("and"));
                        assert_eq!(led.text, "bright", "{}", say("the LED"));
                        promised += 1;
                    }
                    "Test" => {
                        let beep =
                            common::shown(&bench, Function::CONTINUITY, word("from"), word("to"));
                        assert!(beep.beeps, "{}", say("no beep"));
                        promised += 1;
                    }
                    "Put" if step.contains("clamp") => {
                        let amps = common::number(&bench, Function::CLAMP_AMPS, word("round"), "");
                        assert!(amps > 1.0, "{}", say("the clamp"));
                        promised += 1;
                    }
                    _ => {}
                }
            }
        }
    }
    assert!(promised > 20, "{promised}");
}

#[test]
fn a_bench_for_the_tools_has_no_fault_and_any_other_has() {
    let circuit = common::tug();
    let doc = |purpose, faults: &[&str]| {
        let faults = common::faults(&circuit, faults);
        let docs = faults.iter().map(|f| f.doc(&circuit)).collect();
        let doc = LessonDoc::of("Tools", circuit.doc.clone(), docs);
        Lesson::new(LessonDoc { purpose, ..doc })
    };
    let with = doc(Purpose::Tools, &["W8:open"]).err().unwrap().to_string();
    assert!(
        with.contains("faults") && with.contains("healthy"),
        "{with}"
    );
    let without = doc(Purpose::Practice, &[]).err().unwrap().to_string();
    assert!(without.contains("expected 1 to"), "{without}");
}

/// A healthy machine may be held against its suspects: none of them is more than harmless, and nothing
/// falls over.
#[test]
fn a_machine_without_a_fault_has_suspects_that_do_not_show() {
    let circuit = common::demo("sweeper-lamps");
    let healthy = lesson(&circuit, None, Purpose::Tools);
    let reference = common::reference(&healthy).unwrap();
    assert!(!reference.after_complaint.places().is_empty());
}
