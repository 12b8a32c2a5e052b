//! Names the engine: a digest of everything that readings and marks come from, so that what was worked out by
//! another one is known for it.

use std::path::{Path, PathBuf};
use std::{env, fs, io};

/// The crates that readings and marks come from, beside each other.
const CRATES: [&str; 5] = ["solver", "model", "parts", "bench", "diagnosis"];

fn sources(folder: &Path, found: &mut Vec<PathBuf>) -> io::Result<()> {
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            sources(&path, found)?;
        } else {
            found.push(path);
        }
    }
    Ok(())
}

fn main() -> io::Result<()> {
    let own = env::var("CARGO_MANIFEST_DIR").map_err(io::Error::other)?;
    let mut found = Vec::new();
    for name in CRATES {
        let folder = Path::new(&own).join("..").join(name).join("src");
        println!("cargo::rerun-if-changed={}", folder.display());
        sources(&folder, &mut found)?;
    }
    found.sort();
    // FNV-1a, 64 bits: the digest tells engines apart, it guards nothing.
    let mut digest: u64 = 0xcbf2_9ce4_8422_2325;
    for path in found {
        for byte in fs::read(path)? {
            digest = (digest ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
        }
    }
    println!("cargo::rustc-env=CIMENTO_ENGINE={digest:016x}");
    Ok(())
}
