use cimento_core::{attempt::*, marking::*, suspects::*};
fn main() {
    let circuit = serde_json::from_str(&std::fs::read_to_string("../../demo/circuits/baggage-tug-starting.json").unwrap()).unwrap();
    let lesson = Lesson::new(LessonDoc { format: LESSON_FORMAT.into(), version: 1, title: "x".into(), complaint: "x".into(), circuit, faults: vec![cimento_core::faults::read_short_form("W8:open").unwrap()], predictions: true, functions: vec![cimento_core::instruments::Function::DcVolts, cimento_core::instruments::Function::Ohms], limits: Default::default(), weights: Default::default() }).unwrap();
    let t = std::time::Instant::now();
    println!("{} candidates", candidates(&lesson.circuit).len());
    let s = Suspects::after_complaint(&lesson).unwrap();
    println!("n0 {} in {:?}", s.places().len(), t.elapsed());
    let t = std::time::Instant::now();
    let g = ambiguity_group(&lesson,&s).unwrap();
    println!("group {:?} in {:?}", g.iter().map(|p| lesson.circuit.place_id(*p)).collect::<Vec<_>>(), t.elapsed());
    let mut a = Session::start(&lesson).unwrap();
    let read = |red: &str, e: &str| Action::TakeReading { function: cimento_core::instruments::Function::DcVolts, range: None, red: Some(red.into()), black: Some("BAT.-".into()), expected: Some(e.into()) };
    for x in [Action::TryComplaint, read("K3.86", "11.4"), Action::Judge{step:2,verdict:Verdict::TooLow}, read("C12.4f", "11.4"),Action::Judge{step:4,verdict:Verdict::Normal}, read("C14.1m","11.4"),Action::Judge{step:6,verdict:Verdict::TooLow}, Action::NameFault{place:"W8".into(),mode:"open".into(),because:vec![]}, Action::Repair{place:"W8".into(),how:RepairKind::Join}, Action::TryComplaint, read("K3.86","11.4"), Action::HandIn] { a.act(x).unwrap(); }
    let t = std::time::Instant::now();
    let m = mark_sheet(&lesson, a.steps()).unwrap();
    println!("marked in {:?}", t.elapsed());
    println!("{}", serde_json::to_string_pretty(&m).unwrap());
}
