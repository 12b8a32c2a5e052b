//! The server under load, and what it uses.

use std::path::{Path, PathBuf};
use std::process::Stdio;

use tokio::io::{AsyncBufReadExt, BufReader};
use tokio::process::{Child, Command};

use crate::{Failure, Program};

pub struct Server {
    program: PathBuf,
    database: PathBuf,
    child: Child,
    pid: u32,
    pub url: String,
}

impl Server {
    pub async fn start(
        program: &Program,
        database: &Path,
        rate: Option<f64>,
    ) -> Result<Self, Failure> {
        let mut child = Command::new(&program.server)
            .args(["serve", "--port", "0", "--log", "error"])
            .args(rate.map(|r| format!("--rate={r}")))
            .arg("--database")
            .arg(database)
            .arg("--web")
            .arg(&program.web)
            .stdout(Stdio::piped())
            .kill_on_drop(true)
            .spawn()?;
        let pid = child.id().ok_or("the server has gone")?;
        let out = child.stdout.take().ok_or("the server says nothing")?;
        let line = BufReader::new(out).lines().next_line().await?;
        let url = line.as_deref().and_then(|l| l.split(" at ").nth(1));
        let url = url.ok_or("the server did not say where it is")?.to_owned();
        Ok(Self {
            program: program.server.clone(),
            database: database.to_owned(),
            child,
            pid,
            url,
        })
    }

    /// Kernel's figures: seconds of CPU, megabytes held at most, threads.
    pub fn used(&self) -> Result<(f64, f64, usize), Failure> {
        used(self.pid)
    }

    /// Seconds of CPU that its living threads have had, to the nanosecond; what a thread had goes with it.
    pub fn fine_cpu(&self) -> Result<f64, Failure> {
        let mut ns = 0.0;
        for task in std::fs::read_dir(format!("/proc/{}/task", self.pid))? {
            let text = std::fs::read_to_string(task?.path().join("schedstat")).unwrap_or_default();
            let first = text.split_whitespace().next();
            ns += first.and_then(|n| n.parse::<f64>().ok()).unwrap_or(0.0);
        }
        Ok(1e-9 * ns)
    }

    /// Bytes of a copy of the database.
    pub async fn database_bytes(&self) -> Result<u64, Failure> {
        let copy = self.database.with_extension("copy");
        let status = Command::new(&self.program)
            .args(["backup", "--database"])
            .arg(&self.database)
            .arg(&copy)
            .stdout(Stdio::null())
            .status()
            .await?;
        if !status.success() {
            return Err("the database was not copied".into());
        }
        let bytes = std::fs::metadata(&copy)?.len();
        std::fs::remove_file(&copy)?;
        Ok(bytes)
    }

    pub async fn stop(mut self) -> Result<(), Failure> {
        Ok(self.child.kill().await?)
    }
}

fn used(pid: u32) -> Result<(f64, f64, usize), Failure> {
    let status = std::fs::read_to_string(format!("/proc/{pid}/status"))?;
    let field = |name: &str| -> f64 {
        let line = status.lines().find(|l| l.starts_with(name));
        let number = line.and_then(|l| l.split_whitespace().nth(1)?.parse().ok());
        number.unwrap_or(0.0)
    };
    let stat = std::fs::read_to_string(format!("/proc/{pid}/stat"))?;
    // After the name in brackets; user and system time are the 12th and 13th field from there.
    let rest = stat.rsplit_once(") ").map_or("", |(_, rest)| rest);
    let ticks = rest.split_whitespace().skip(11).take(2);
    let ticks: f64 = ticks.filter_map(|t| t.parse::<f64>().ok()).sum();
    Ok((
        ticks / 100.0,
        field("VmHWM:") / 1024.0,
        field("Threads:") as usize,
    ))
}
