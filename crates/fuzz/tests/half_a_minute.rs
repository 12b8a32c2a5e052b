//! Half a minute of what `make thorough` does for ten. How long one takes is looked at there, on a quiet machine.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::process::Command;

#[test]
fn nothing_breaks_in_a_quarter_of_a_minute_on_each_core() {
    let mut fuzz = Command::new(env!("CARGO_BIN_EXE_cimento-fuzz"));
    fuzz.args(["--seconds", "15", "--seed", "1", "--longest", "60"]);
    let came = fuzz.output().unwrap();
    let said = String::from_utf8_lossy(&came.stdout);
    let more = String::from_utf8_lossy(&came.stderr);
    assert!(came.status.success(), "{said}{more}");
    for target in [
        "circuits",
        "lessons",
        "path lines",
        "wire lists",
        "rosters",
        "layouts",
        "screens",
        "actions",
        "bodies",
    ] {
        let line = said.lines().find(|l| l.starts_with(target));
        let line = line.unwrap_or_else(|| panic!("{target} is not there: {said}"));
        let counts: Vec<&str> = line[target.len()..].split_whitespace().collect();
        let [taken, refused] = [0, 1].map(|n: usize| counts[n].parse::<u32>().unwrap());
        assert!(refused > 20, "{target}: something wrong is refused: {line}");
        // What is never taken is not looked at in earnest.
        assert!(taken > 0, "{target}: something is taken: {line}");
    }
}
