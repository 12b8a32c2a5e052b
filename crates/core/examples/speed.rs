use cimento_core::{bench::*, circuit::*};
use cimento_solver::Solver;
use std::time::Instant;
fn main() {
    let c = Circuit::read(&std::fs::read_to_string("../../demo/circuits/baggage-tug-starting.json").unwrap()).unwrap();
    let mut b = Bench::new(&c, &[]).unwrap();
    let w = b.settled().points[0].wiring.clone();
    let mut s = Solver::new();
    s.operating_point(&w.net).unwrap();
    let t = Instant::now();
    for _ in 0..1000 { s.operating_point(&w.net).unwrap(); }
    println!("solve same structure {:?}", t.elapsed() / 1000);
    let t = Instant::now();
    for _ in 0..1000 { Solver::new().operating_point(&w.net).unwrap(); }
    println!("solve new structure {:?}", t.elapsed() / 1000);
    let st = OperatingState::trial(&c);
    let t = Instant::now();
    for _ in 0..100 { for s in &st { b.set(s.clone()).unwrap(); } }
    println!("settle {:?}", t.elapsed() / 400);
}
