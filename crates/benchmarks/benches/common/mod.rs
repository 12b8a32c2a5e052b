//! What the benchmarks share.

use std::io::Write;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// How long ngspice takes over a netlist.
pub fn ngspice(netlist: &str) -> Duration {
    let start = Instant::now();
    let mut child = Command::new("ngspice")
        .args(["-b", "/dev/stdin"])
        .stdin(Stdio::piped())
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .spawn()
        .expect("ngspice is installed by `make test-tools`");
    let mut input = child.stdin.take().unwrap();
    input.write_all(netlist.as_bytes()).unwrap();
    drop(input);
    assert!(child.wait().unwrap().success());
    start.elapsed()
}
