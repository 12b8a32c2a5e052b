//! Disks that are full, slow or not to be written, and a file that somebody deletes.

use std::path::Path;
use std::process::Stdio;
use std::time::Duration;

use cimento_store::check;
use tokio::process::Command;
use tokio::time::{Instant, sleep};

use super::School;
use super::kills::{stopped, writers};
use super::writer::Seen;
use crate::{Failure, Program};

/// A disk that takes so much, in megabytes.
const DISK_MB: usize = 8;

async fn done(command: &mut Command) -> bool {
    command.status().await.is_ok_and(|s| s.success())
}

/// The file is deleted under the server: everything that was acknowledged is in what it puts beside it.
pub async fn gone(program: &Program) -> Result<usize, Failure> {
    let mut school = School::open(program, None).await?;
    school.server.start().await?;
    let (seen, tasks) = writers(&school)?;
    sleep(Duration::from_secs(2)).await;
    std::fs::remove_file(&school.database)?;
    sleep(Duration::from_secs(2)).await;
    school.server.end().await?;
    let rescued = school.folder.join("school.db.rescued");
    check(&rescued)?;
    if !done(school.server.command("restore").arg(&rescued)).await {
        return Err("what was rescued is not restored".into());
    }
    // Copies hold no sign-ins: that they are missed is right.
    seen.forgive_sign_ins();
    school.server.start().await?;
    let lost = stopped(&seen, tasks).await?;
    school.server.end().await?;
    println!(
        "a file that was deleted under the server, put beside it and restored: {}, {lost} lost",
        seen.said()
    );
    Ok(lost)
}

/// A disk of its own that fills up, is emptied, and then cannot be written.
pub async fn full_and_read_only(program: &Program) -> Result<usize, Failure> {
    let folder = tempfile::tempdir()?;
    let mut mount = Command::new("mount");
    mount.args(["-t", "tmpfs", "-o", &format!("size={DISK_MB}m"), "tmpfs"]);
    if !done(mount.arg(folder.path())).await {
        println!("a full disk and one that cannot be written: not tried, for that takes root");
        return Ok(0);
    }
    let lost = on_a_small_disk(program, folder.path()).await;
    done(Command::new("umount").arg(folder.path())).await;
    lost
}

async fn on_a_small_disk(program: &Program, folder: &Path) -> Result<usize, Failure> {
    let mut school = School::open(program, Some(folder)).await?;
    school.server.start().await?;
    let (seen, tasks) = writers(&school)?;
    sleep(Duration::from_secs(2)).await;
    // Something else takes all that is left.
    let filler = folder.join("filler");
    let _ = std::fs::write(&filler, vec![0; DISK_MB << 20]);
    sleep(Duration::from_secs(2)).await;
    let full = Seen::of(&seen.put_off);
    school.server.kill().await?;
    let ended = school.server.start().await;
    // Whether it starts or says that it cannot, what was stored is there afterwards.
    let starts = ended.is_ok();
    sleep(Duration::from_secs(1)).await;
    std::fs::remove_file(&filler)?;
    if !starts {
        school.server.start().await?;
    }
    let before = Seen::of(&seen.steps);
    sleep(Duration::from_secs(2)).await;
    let after = Seen::of(&seen.steps);
    let lost = stopped(&seen, tasks).await?;
    school.server.end().await?;
    println!(
        "a disk of {DISK_MB} MB that was full: {} put off meanwhile, it {} on it, {} steps when there was room again; {}, {lost} lost",
        full,
        if starts { "starts" } else { "does not start" },
        after - before,
        seen.said()
    );
    read_only(program, folder).await.map(|more| lost + more)
}

/// A server on a file that it may read and not write says so and does not begin.
async fn read_only(program: &Program, folder: &Path) -> Result<usize, Failure> {
    let mut remount = Command::new("mount");
    if !done(remount.args(["-o", "remount,ro"]).arg(folder)).await {
        return Ok(0);
    }
    let mut serve = Command::new(&program.server);
    serve.args(["serve", "--port", "0", "--database"]);
    serve
        .arg(folder.join("school.db"))
        .arg("--web")
        .arg(&program.web);
    let came = tokio::time::timeout(Duration::from_secs(10), serve.output()).await??;
    let said = String::from_utf8_lossy(&came.stderr).into_owned();
    println!(
        "on a disk that cannot be written it ends with {} and says: {}",
        came.status,
        said.trim()
    );
    Ok(usize::from(came.status.success()))
}

/// Whether the system's calls can be held up and made to fail.
async fn has_strace() -> bool {
    done(Command::new("strace").arg("-V").stdout(Stdio::null())).await
}

/// What a server is started under so that something becomes of its system calls.
fn under(calls: &str, becomes: &str) -> Vec<String> {
    let (trace, inject) = (
        format!("trace={calls}"),
        format!("inject={calls}:{becomes}"),
    );
    let line = [
        "strace",
        "-f",
        "-qq",
        "-o",
        "/dev/null",
        "-e",
        &trace,
        "-e",
        &inject,
    ];
    line.map(str::to_owned).to_vec()
}

/// From some write on the disk takes none: nothing is acknowledged any more, and all that was is there.
pub async fn failing(program: &Program) -> Result<usize, Failure> {
    if !has_strace().await {
        println!("a disk that fails: not tried, for that takes strace");
        return Ok(0);
    }
    let mut school = School::open(program, None).await?;
    school.server.under = under("pwrite64", "error=EROFS:when=100+");
    school.server.start().await?;
    let (seen, tasks) = writers(&school)?;
    sleep(Duration::from_secs(6)).await;
    let (stored, put_off) = (Seen::of(&seen.steps), Seen::of(&seen.put_off));
    school.server.kill().await?;
    school.server.under.clear();
    school.server.start().await?;
    let lost = stopped(&seen, tasks).await?;
    school.server.end().await?;
    println!(
        "a disk that takes no more after 100 writes of a thread: {stored} steps before, {put_off} put off after; {}, {lost} lost",
        seen.said()
    );
    Ok(lost)
}

/// Every write to the disk is waited for.
pub async fn slow(program: &Program) -> Result<usize, Failure> {
    if !has_strace().await {
        println!("a slow disk: not tried, for that takes strace");
        return Ok(0);
    }
    let mut school = School::open(program, None).await?;
    school.server.under = under("fsync,fdatasync", "delay_enter=40000");
    school.server.start().await?;
    let (seen, tasks) = writers(&school)?;
    let began = Instant::now();
    sleep(Duration::from_secs(8)).await;
    let each = began.elapsed().as_secs_f64() / Seen::of(&seen.steps).max(1) as f64;
    school.server.kill().await?;
    school.server.start().await?;
    let lost = stopped(&seen, tasks).await?;
    school.server.kill().await?;
    println!(
        "a disk that takes 40 ms for each write: a step each {:.0} ms for all together; {}, {lost} lost",
        1e3 * each,
        seen.said()
    );
    Ok(lost)
}
