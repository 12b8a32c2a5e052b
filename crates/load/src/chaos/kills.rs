//! Ends without warning: of the server while it serves, and of everything else that writes a school's file.

use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::Ordering;
use std::time::Duration;

use cimento_store::{Store, check};
use diesel::{Connection, SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use tokio::time::sleep;

use super::writer::{Seen, Writer};
use super::{School, WRITERS};
use crate::school::name;
use crate::{Failure, Program};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("../store/migrations");
/// Longest life of a server, of a copy that is being made, and of an upgrade, in milliseconds.
const LIFE_MS: u64 = 260;
const COPY_MS: u64 = 200;
const UPGRADE_MS: u64 = 120;
/// Schemas that an upgrade goes over.
const BEHIND: usize = 4;

/// A time up to so many milliseconds.
fn some(most_ms: u64) -> Duration {
    Duration::from_micros(fastrand::u64(..1000 * most_ms))
}

/// Prints how long something took, in seconds, each time.
fn print(what: &str, mut took: Vec<f64>) {
    took.sort_by(f64::total_cmp);
    let at = |share: f64| 1e3 * took[((took.len() - 1) as f64 * share) as usize];
    println!(
        "  {what}: median {:.0} ms, 99 of 100 within {:.0} ms, most {:.0} ms",
        at(0.5),
        at(0.99),
        at(1.0)
    );
}

/// Students at their benches.
pub fn writers(school: &School) -> Result<(Arc<Seen>, Vec<tokio::task::JoinHandle<()>>), Failure> {
    let seen = Arc::new(Seen::default());
    let mut tasks = Vec::new();
    for nth in 0..WRITERS {
        let writer = Writer::new(name(nth), school.server.url(), &seen)?;
        tasks.push(tokio::spawn(writer.work()));
    }
    Ok((seen, tasks))
}

/// Lets them stop, and waits until each has looked whether all is there.
pub async fn stopped(
    seen: &Seen,
    tasks: Vec<tokio::task::JoinHandle<()>>,
) -> Result<usize, Failure> {
    seen.stop.store(true, Ordering::Relaxed);
    for task in tasks {
        task.await?;
    }
    Ok(Seen::of(&seen.lost))
}

/// The server while students sign in, work and hand in.
pub async fn serving(program: &Program, kills: usize) -> Result<usize, Failure> {
    let mut school = School::open(program, None).await?;
    school.server.start().await?;
    let (seen, tasks) = writers(&school)?;
    let mut took = Vec::new();
    for _ in 0..kills {
        sleep(some(LIFE_MS)).await;
        school.server.kill().await?;
        took.push(school.server.start().await?);
    }
    let lost = stopped(&seen, tasks).await?;
    println!(
        "{kills} ends without warning under {WRITERS} students: {}, {lost} lost",
        seen.said()
    );
    print("until it serves again", took);
    let ended = school.server.end().await?;
    println!("  it ends {:.0} ms after it is asked to", 1e3 * ended);
    Ok(lost)
}

/// Copies that are being made while students work: whatever has the name of a copy is one.
pub async fn copying(program: &Program, kills: usize) -> Result<usize, Failure> {
    let mut school = School::open(program, None).await?;
    school.server.start().await?;
    let (seen, tasks) = writers(&school)?;
    let (mut whole, mut lost) = (0, 0);
    for n in 0..kills {
        let to = school.folder.join(format!("copy{n}.db"));
        let mut backup = school.server.command("backup").arg(&to).spawn()?;
        sleep(some(COPY_MS)).await;
        backup.kill().await?;
        if to.exists() {
            whole += 1;
            lost += usize::from(check(&to).is_err());
            std::fs::remove_file(&to)?;
        }
    }
    lost += stopped(&seen, tasks).await?;
    school.server.end().await?;
    println!(
        "{kills} copies ended without warning: {whole} were made, all others left none; {}, {lost} lost",
        seen.said()
    );
    Ok(lost)
}

/// What is in a school's file: steps and sign-ins.
fn held(database: &Path) -> Result<usize, Failure> {
    check(database)?;
    let store = Store::open(database)?;
    let mut steps = 0;
    for attempt in store.attempts(cimento_store::Whose::SeenBy(1))? {
        steps += store.steps(attempt.id)?.len();
    }
    store.checkpoint()?;
    Ok(steps)
}

/// Students work for a while, and the server ends.
async fn work(school: &mut School) -> Result<(), Failure> {
    school.server.start().await?;
    let (seen, tasks) = writers(school)?;
    sleep(Duration::from_secs(2)).await;
    stopped(&seen, tasks).await?;
    school.server.end().await?;
    Ok(())
}

/// A school with some work in it, that nobody works on.
async fn worked(program: &Program) -> Result<School, Failure> {
    let mut school = School::open(program, None).await?;
    work(&mut school).await?;
    Ok(school)
}

/// The server while it upgrades an earlier program's file.
pub async fn upgrading(program: &Program, kills: usize) -> Result<usize, Failure> {
    let mut school = worked(program).await?;
    let steps = held(&school.database)?;
    let mut db = SqliteConnection::establish(&school.database.to_string_lossy())?;
    for _ in 0..BEHIND {
        db.revert_last_migration(MIGRATIONS)?;
    }
    drop(db);
    let old = school.folder.join("old.db");
    std::fs::copy(&school.database, &old)?;
    let (mut lost, mut took) = (0, Vec::new());
    for _ in 0..kills {
        school.server.begin()?;
        sleep(some(UPGRADE_MS)).await;
        school.server.kill().await?;
        took.push(school.server.start().await?);
        school.server.kill().await?;
        lost += usize::from(held(&school.database)? != steps);
        for entry in std::fs::read_dir(&school.folder)? {
            let path = entry?.path();
            let file = path
                .file_name()
                .unwrap_or_default()
                .to_string_lossy()
                .into_owned();
            if file.contains(".before-") {
                lost += usize::from(!file.ends_with(".part") && check(&path).is_err());
                std::fs::remove_file(&path)?;
            }
        }
        for log in ["school.db-wal", "school.db-shm"] {
            let _ = std::fs::remove_file(school.folder.join(log));
        }
        std::fs::copy(&old, &school.database)?;
    }
    println!("{kills} upgrades ended without warning, of {steps} steps each: {lost} lost");
    print("until it serves after the next start", took);
    Ok(lost)
}

/// A copy that is being put in the place of a school's file: it is there, or what was there before.
pub async fn restoring(program: &Program, kills: usize) -> Result<usize, Failure> {
    let mut school = worked(program).await?;
    let copy = school.folder.join("copy.db");
    Store::open(&school.database)?.backup(&copy)?;
    let early = held(&school.database)?;
    work(&mut school).await?;
    let late = held(&school.database)?;
    let kept = school.folder.join("late.db");
    std::fs::copy(&school.database, &kept)?;
    let (mut lost, mut done) = (0, 0);
    for _ in 0..kills {
        let mut restore = school.server.command("restore").arg(&copy).spawn()?;
        sleep(some(COPY_MS)).await;
        restore.kill().await?;
        school.server.start().await?;
        school.server.kill().await?;
        match held(&school.database)? {
            steps if steps == early => done += 1,
            steps if steps == late => {}
            steps => {
                println!("LOST: {steps} steps are neither {early} nor {late}");
                lost += 1;
            }
        }
        for entry in std::fs::read_dir(&school.folder)? {
            let path = entry?.path();
            let file = path
                .file_name()
                .unwrap_or_default()
                .to_string_lossy()
                .into_owned();
            if file.starts_with("school.db") && !file.ends_with(".lock") {
                std::fs::remove_file(&path)?;
            }
        }
        std::fs::copy(&kept, &school.database)?;
    }
    println!(
        "{kills} restores ended without warning: {done} were done, the others left what was there; {lost} lost"
    );
    Ok(lost)
}
