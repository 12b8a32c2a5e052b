use cimento_core::bench::*;
use cimento_core::circuit::*;
use cimento_core::faults::*;
use cimento_core::instruments::*;
fn main() {
    let a: Vec<String> = std::env::args().collect();
    let c = Circuit::read(&std::fs::read_to_string(&a[1]).unwrap()).unwrap();
    let faults: Vec<Fault> = a[2]
        .split(',')
        .filter(|s| !s.is_empty())
        .map(|f| Fault::read(&c, &read_short_form(f).unwrap(), "f").unwrap())
        .collect();
    let mut b = Bench::new(&c, &faults).unwrap();
    let co = complaint(&mut b).unwrap();
    println!("{}", co.text);
    for t in &co.trials {
        println!(
            "  {} : {}",
            t.state,
            t.notices
                .iter()
                .map(|n| n.text.clone())
                .collect::<Vec<_>>()
                .join(", ")
        );
    }
    for q in &a[3..] {
        // key=run,engine=fast;function;red;black
        let p: Vec<&str> = q.split(';').collect();
        let mut s = OperatingState::at_rest(&c);
        for kv in p[0].split(',').filter(|x| !x.is_empty()) {
            let (k, v) = kv.split_once('=').unwrap();
            s.set_control(k, v.to_owned());
        }
        b.set(s).unwrap();
        let r = take(
            &b,
            Function::parse(p[1]).unwrap(),
            None,
            Some(p[2]),
            p.get(3).copied(),
        );
        match r {
            Ok(r) => println!("{q} -> {} {}", r.shown.text, r.shown.unit),
            Err(e) => println!("{q} -> {e}"),
        }
    }
}
