//! The `cimento` program.

use std::process::ExitCode;

// Hashing a password takes and frees nineteen megabytes at once: the system's allocator leaves holes of that
// size, and a thousand sign-ins took gigabytes.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> ExitCode {
    cimento_server::commands::main()
}
