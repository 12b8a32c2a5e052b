//! The `cimento` program.

use std::process::ExitCode;

fn main() -> ExitCode {
    cimento_server::commands::main()
}
