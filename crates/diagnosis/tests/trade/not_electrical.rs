//! What is wrong may not be electrical: then everything electrical shows that it is right, and that is the proof.

use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{
    FitKnownGood, HandIn, Inspect, NameFault, Repair, SetControl, TryComplaint,
};
use cimento_diagnosis::attempt::{Action, RepairKind, Session, repairs};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, sheet};
use cimento_diagnosis::suspects::Suspects;
use cimento_model::circuit::Place;

use crate::common;

fn lesson(fault: &str) -> Arc<Lesson> {
    let circuit = common::demo("fire-pump-ignition");
    let faults = common::faults(&circuit, &[fault]);
    let docs = faults.iter().map(|f| f.doc(&circuit)).collect();
    let doc = LessonDoc::of("It does not fire", circuit.doc.clone(), docs);
    common::shared(doc)
}

/// "Is there a spark?" is what is asked first: without one the engine is out of it, with one it is all that is left.
#[test]
fn a_spark_leaves_the_engine_alone_and_none_clears_it() {
    let reference = common::reference(&lesson("M1:no_fuel")).unwrap();
    assert_eq!(reference.plan.group, ["M1"]);
    assert!(reference.plan.steps.len() <= 4, "{:?}", reference.plan);
    let engine = reference.lesson.circuit.place("M1").unwrap();
    for dead in ["W8:short_to_ground=0.1,metal=engine", "P1:gap_bridged"] {
        let reference = common::reference(&lesson(dead)).unwrap();
        assert!(!reference.group.contains(&engine), "{dead}");
        let before = Suspects::after_complaint(&reference.lesson).unwrap();
        assert!(
            before.places().contains(&engine),
            "{dead}: nobody knows yet"
        );
        let last = reference.plan.steps.last().unwrap();
        assert!(!last.left.contains(&"M1".to_owned()), "{dead}");
    }
}

/// Who finds the spark and hands the engine on is right; who renews a part of the ignition has not cured it.
#[test]
fn it_is_handed_on_with_the_readings_that_prove_it() {
    let reference = common::reference(&lesson("M1:no_fuel")).unwrap();
    let circuit = &reference.lesson.circuit;
    let engine = circuit.place("M1").unwrap();
    assert_eq!(repairs(circuit, engine), [RepairKind::SendOut]);
    let marked = |found: &str, how: RepairKind| {
        let mut session = Session::start(&reference.lesson);
        session.act(TryComplaint {}.into()).unwrap();
        for (control, position) in [("stop switch", "off"), ("rope", "pulled")] {
            let set = SetControl {
                control: control.to_owned(),
                position: position.to_owned(),
            };
            session.act(set.into()).unwrap();
        }
        let spark = common::reading(Function::SPARK_TESTER, "W6", None, None);
        let because = vec![session.act(spark).unwrap().no];
        let mode = match found {
            "M1" => "no_fuel",
            _ => "module_open",
        };
        let name = NameFault {
            place: found.to_owned(),
            mode: mode.to_owned(),
            because,
        };
        session.act(name.into()).unwrap();
        session.act(Repair::of(found, how).into()).unwrap();
        session.act(TryComplaint {}.into()).unwrap();
        session.act(Action::HandIn(HandIn {})).unwrap();
        let case = Case::new(&reference, session.steps()).unwrap();
        (session.bench().faults().len(), sheet(&case).unwrap())
    };
    let (left, right) = marked("M1", RepairKind::SendOut);
    assert_eq!(left, 0);
    let (left, wrong) = marked("A1", RepairKind::Renew);
    assert_eq!(left, 1);
    assert!(wrong.total < right.total - 20.0, "{wrong:#?}");
}

/// Nothing of it is seen from outside, and nobody has another engine to try.
#[test]
fn an_engine_is_not_looked_into_or_exchanged() {
    let mut session = Session::start(&lesson("M1:no_compression"));
    let look = Inspect {
        place: "M1".to_owned(),
    };
    session.act(look.into()).unwrap();
    let view = session.view();
    assert_eq!(view.seen[0].text, "nothing out of the ordinary");
    let other = FitKnownGood {
        part: "M1".to_owned(),
    };
    let refused = session.act(other.into()).unwrap_err();
    assert_eq!(refused.to_string(), "there is no other engine to try");
}

/// A module that is at fault may be renewed or sent out; either cures it.
#[test]
fn a_module_may_be_sent_out() {
    let circuit = common::demo("belt-loader-module");
    let mut modules = circuit.parts.iter().enumerate();
    let (n, _) = modules.find(|(_, p)| p.kind.module().is_some()).unwrap();
    let both = [RepairKind::Renew, RepairKind::SendOut];
    assert_eq!(repairs(&circuit, Place::Part(n)), both);
}
