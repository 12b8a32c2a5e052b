//! What attempts have in common, counted by hand.

use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{HandIn, NameFault, Repair, Suspect, TryComplaint};
use cimento_diagnosis::attempt::{Action, RepairKind, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, Counted, Insight, MarkSheet, Worked, insight, sheet};
use cimento_diagnosis::suspects::Reference;

use crate::common;

fn lesson() -> Arc<Lesson> {
    let circuit = common::demo("sweeper-lamps");
    let fault = common::fault(&circuit, "W15:open").doc(&circuit);
    common::shared(LessonDoc {
        predictions: true,
        ..LessonDoc::of("Lamps", circuit.doc.clone(), vec![fault])
    })
}

fn of(reference: &Reference, attempts: &[Vec<Action>]) -> Insight {
    let worked = attempts.iter().map(|actions| {
        let mut actions = actions.clone();
        actions.push(HandIn {}.into());
        let session = Session::replay(&reference.lesson, &actions).unwrap();
        let case = Case::new(reference, session.steps()).unwrap();
        let sheet = sheet(&case).unwrap();
        Worked {
            lesson: Arc::clone(&reference.lesson),
            steps: session.steps().to_vec(),
            sheet,
        }
    });
    insight(&worked.collect::<Vec<_>>())
}

fn named(place: &str) -> Action {
    let (place, mode) = (place.to_owned(), "open".to_owned());
    let because = Vec::new();
    NameFault {
        place,
        mode,
        because,
    }
    .into()
}

fn read(function: Function, red: &str, black: &str, expected: &str) -> Action {
    common::reading(function, red, Some(black), Some(expected))
}

fn counted(what: &str, attempts: usize, times: usize) -> Counted {
    let what = what.to_owned();
    Counted {
        what,
        attempts,
        times,
    }
}

/// Wrong places count once an attempt, the right one and a renewed fuse not at all; slips and points likewise.
#[test]
fn what_misled_and_where_was_measured_is_counted() {
    let reference = common::reference(&lesson()).unwrap();
    let suspect = |place: &str| -> Action {
        let places = vec![place.to_owned()];
        Suspect { places }.into()
    };
    let renew = |place: &str, how: RepairKind| -> Action {
        let place = place.to_owned();
        Repair::of(place, how).into()
    };
    let told = of(
        &reference,
        &[
            vec![
                read(Function::DC_VOLTS, "C5.3m", "BAT.-", "0"),
                read(Function::DC_VOLTS, "C5.3m", "BAT.-", "0"),
                suspect("W14"),
                named("W14"),
                named("W15"),
            ],
            vec![
                read(Function::OHMS, "C5.3m", "BAT.-", "0"),
                suspect("W14"),
                renew("F1", RepairKind::Renew),
                named("W14"),
            ],
            vec![
                read(Function::DC_VOLTS, "BAT.+", "BAT.-", "12.6"),
                named("W15"),
            ],
        ],
    );
    assert_eq!(told.attempts, 3);
    assert_eq!(
        told.misled,
        [counted("W14 named", 2, 2), counted("W14 suspected", 2, 2)]
    );
    // Both leads count: battery negative in every attempt.
    let at = |point: &str| told.measured.iter().find(|m| m.what == point);
    assert_eq!(at("C5.3m"), Some(&counted("C5.3m", 2, 3)));
    assert_eq!(at("BAT.-"), Some(&counted("BAT.-", 3, 4)));
    assert_eq!(at("F1.1"), None);
    // Some did worse than others, so the lesson is not to blame.
    assert!(
        told.lines
            .iter()
            .all(|l| l.of == 3 && (0.0..=1.0).contains(&l.share))
    );
}

/// Where everybody loses a line, or nobody finds it hard, the lesson itself is doubted: from three attempts on.
#[test]
fn a_lesson_that_everybody_fails_is_doubted() {
    let reference = common::reference(&lesson()).unwrap();
    let nothing: Vec<Action> = vec![TryComplaint {}.into()];
    let two = of(&reference, &[nothing.clone(), nothing.clone()]);
    assert!(two.doubts.is_empty(), "{:?}", two.doubts);
    let three = of(&reference, &[nothing.clone(), nothing.clone(), nothing]);
    let doubted = |what: &str| three.doubts.iter().any(|d| d.contains(what));
    assert!(
        doubted("Conclusion") && doubted("Clearing"),
        "{:?}",
        three.doubts
    );
    assert!(
        !doubted("Approach"),
        "trying it was done: {:?}",
        three.doubts
    );

    // Of sheets with all marks nothing is doubted but that it was easy; one that is not so good is enough.
    let session = Session::replay(&reference.lesson, &[TryComplaint {}.into()]).unwrap();
    let mut full = sheet(&Case::new(&reference, session.steps()).unwrap()).unwrap();
    for line in &mut full.lines {
        line.marks = line.out_of;
    }
    full.total = 97.0;
    let worked = |total: f64| Worked {
        lesson: Arc::clone(&reference.lesson),
        steps: session.steps().to_vec(),
        sheet: MarkSheet {
            total,
            ..full.clone()
        },
    };
    let easy = insight(&[97.0, 99.0, 95.0].map(worked));
    assert_eq!(easy.doubts.len(), 1, "{:?}", easy.doubts);
    assert!(
        easy.doubts[0].contains("asks too little"),
        "{:?}",
        easy.doubts
    );
    assert!(easy.lines.iter().all(|l| (l.share - 1.0).abs() < 1e-12));
    let mixed = insight(&[97.0, 99.0, 94.0].map(worked));
    assert!(mixed.doubts.is_empty(), "{:?}", mixed.doubts);
}
