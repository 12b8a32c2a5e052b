fn main(){ let c=cimento_core::circuit::Circuit::read(&std::fs::read_to_string(std::env::args().nth(1).unwrap()).unwrap()).unwrap(); println!("{}", serde_json::to_string(&c.drawing()).unwrap()); }
