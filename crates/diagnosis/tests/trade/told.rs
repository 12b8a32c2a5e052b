//! What is told of a machine: words that cost minutes, rule nothing out, and may be wrong.

use std::sync::Arc;

use cimento_diagnosis::attempt::actions::{AskCustomer, HandIn, ReadHistory};
use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::lesson::{
    CustomerQuestion, CustomersAnswer, Earlier, Lesson, LessonDoc, Purpose, Told,
};
use cimento_diagnosis::marking::{Case, debrief};
use cimento_model::faults::read_short_form;

use crate::common::{self, demo};

fn doc(fault: &str, told: Told) -> LessonDoc {
    let fault = read_short_form(fault).unwrap();
    LessonDoc {
        told,
        ..LessonDoc::of("A lamp", demo("sweeper-lamps").doc.clone(), vec![fault])
    }
}

fn asked(session: &mut Session, question: CustomerQuestion) -> String {
    session.act(AskCustomer { question }.into()).unwrap();
    session.view().told.last().unwrap().text.clone()
}

/// Whoever has noticed what there is to notice says when it comes; each question is a minute.
#[test]
fn a_customer_says_when_it_comes() {
    use CustomerQuestion::{Heat, Often, Shaking, Water};
    let no = "I have not noticed any difference.";
    for (fault, often, heat, water, shaking) in [
        ("W15:open", "Every time.", no, no, no),
        (
            "W15:open,when=hot",
            "Now and then.",
            "Only when it has run for a while.",
            no,
            no,
        ),
        (
            "W15:open,when=wet",
            "Now and then.",
            no,
            "Yes, that is when it does it.",
            no,
        ),
        (
            "W15:open,when=moved",
            "Now and then.",
            no,
            no,
            "Yes, it comes with the bumps.",
        ),
    ] {
        let lesson = Lesson::new(doc(fault, Told::default())).unwrap();
        let mut session = Session::start(&lesson);
        let said = [Often, Heat, Water, Shaking].map(|q| asked(&mut session, q));
        assert_eq!(said, [often, heat, water, shaking], "{fault}");
        assert_eq!(session.view().minutes, 4.0);
        let changed = session.changes(3).told;
        assert_eq!(changed.len(), 1, "{changed:?}");
        let again = session.act(AskCustomer { question: Heat }.into());
        assert!(again.unwrap_err().to_string().contains("has answered that"));
    }
}

fn misleading() -> Told {
    Told {
        earlier: vec![
            Earlier {
                when: "in March".to_owned(),
                what: "Tail lamp bulb renewed.".to_owned(),
                misleads: true,
            },
            Earlier {
                when: "in May".to_owned(),
                what: "Brushes renewed.".to_owned(),
                misleads: false,
            },
        ],
        answers: vec![CustomersAnswer {
            question: CustomerQuestion::Water,
            says: "Since the rain on Tuesday.".to_owned(),
            misleads: true,
        }],
    }
}

/// Words rule nothing out, whatever they say; that they led astray is said afterwards.
#[test]
fn words_are_no_evidence() {
    let lesson = Lesson::new(doc("W15:open", misleading())).unwrap();
    let reference = common::reference(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    assert_eq!(
        asked(&mut session, CustomerQuestion::Water),
        "Since the rain on Tuesday."
    );
    session.act(ReadHistory {}.into()).unwrap();
    let read = session.view().told[1].text.clone();
    assert_eq!(
        read,
        "in March: Tail lamp bulb renewed.\nin May: Brushes renewed."
    );
    let again = session.act(ReadHistory {}.into()).unwrap_err();
    assert!(again.to_string().contains("has been read"));
    session.act(HandIn {}.into()).unwrap();
    let case = Case::new(&reference, session.steps()).unwrap();
    assert_eq!(case.n, case.n0);
    let said = debrief(&case);
    assert!(said.steps.iter().all(|s| s.ruled_out.is_empty()));
    assert_eq!(
        said.misleading,
        [
            "On record, in March: “Tail lamp bulb renewed.”",
            "“After rain, or after washing?” the customer said: “Since the rain on Tuesday.”"
        ]
    );
}

#[test]
fn a_machine_without_a_past_says_so() {
    let lesson = Lesson::new(doc("W15:open", Told::default())).unwrap();
    let mut session = Session::start(&lesson);
    session.act(ReadHistory {}.into()).unwrap();
    let read = &session.view().told[0];
    assert_eq!(read.text, "Nothing is on record for this machine.");
    let actions: Vec<Action> = session.steps().iter().map(|s| s.action.clone()).collect();
    let again = Session::replay(&lesson, &actions).unwrap();
    assert_eq!(again.view(), session.view());

    // A bench for trying the tools has no customer.
    let mut tools = doc("W15:open", Told::default());
    (tools.faults, tools.purpose) = (Vec::new(), Purpose::Tools);
    let lesson: Arc<Lesson> = Lesson::new(tools).unwrap();
    let mut session = Session::start(&lesson);
    let question = CustomerQuestion::Began;
    for action in [AskCustomer { question }.into(), ReadHistory {}.into()] {
        let refused = session.act(action).unwrap_err();
        assert!(refused.to_string().contains("nobody has brought"));
    }
}

#[test]
fn lines_that_say_nothing_or_too_much_are_refused() {
    let mut empty = misleading();
    empty.earlier[1].what = "  ".to_owned();
    let mut long = misleading();
    long.answers[0].says = "x".repeat(301);
    let mut twice = misleading();
    twice.answers.push(twice.answers[0].clone());
    let mut many = misleading();
    many.earlier = vec![many.earlier[0].clone(); 21];
    for (told, path) in [
        (empty, "told.earlier[1].what"),
        (long, "told.answers[0].says"),
        (twice, "told.answers[1].question"),
        (many, "told.earlier"),
    ] {
        let refused = Lesson::new(doc("W15:open", told)).err().unwrap();
        assert_eq!(refused.0[0].path, path);
    }
}
