//! Faults of one difficulty dealt to a class, and work that is ended from the front.

use std::time::Duration;

use cimento_e2e::{Browser, Result, Server};

/// Three reference plans, beside other tests.
const PLANNING: Duration = Duration::from_secs(120);

/// Three faults become one assignment of the class: neighbours get different ones, the list of what was given says how
/// many there are, one live page shows all benches, and ends it.
#[tokio::test(flavor = "multi_thread")]
#[ignore = "long: in make thorough"]
async fn faults_are_dealt_to_a_class_and_the_work_is_ended() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/1/fault-bench").await?;
    b.css("[data-point='K3.86']").await?;
    for wire in ["W8", "W9", "W10"] {
        b.set_fault(wire, "broken").await?;
        b.xpath(&format!("//button[@aria-label='Take out {wire}']"))
            .await?;
    }
    b.click("#save-lesson").await?;
    b.retype("#lesson-title", "Dealt").await?;
    b.click("#pool").await?;
    b.wait_text(".ant-modal", "within 20 % of each other")
        .await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // A band in which nothing lies is refused with what lies where; the usual one is chosen again.
    b.click("#fair-band").await?;
    b.retype("[aria-label='Most minutes']", "1").await?;
    b.click("#give-lesson").await?;
    b.wait_text_within(
        ".ant-modal",
        "of the pool lie between 0 and 1 min",
        PLANNING,
    )
    .await?;
    b.click("#fair-band").await?;
    b.click("#give-lesson").await?;
    let dealt = b
        .wait_text_within("[aria-label='Dealt']", "T. Oduya", PLANNING)
        .await?;
    assert!(dealt.contains("I. Varga"), "{dealt}");
    b.go("/classes").await?;
    b.wait_text("[data-assignment='Dealt']", "faults dealt")
        .await?;
    b.click_xpath("//a[@aria-label='Live: Dealt']").await?;
    for student in ["T. Oduya", "I. Varga"] {
        b.css(&format!("[data-bench='{student}']")).await?;
    }
    b.click("#end-assignment").await?;
    b.click_xpath("//*[contains(@class, 'ant-popconfirm')]//button[normalize-space()='End it']")
        .await?;
    b.wait_text("main", "ended").await?;
    let student = Browser::open(&server.url).await?;
    student.sign_in("oduya", "red-and-black").await?;
    student.open_work("Dealt").await?;
    student.css("[data-point='K3.86']").await?;
    student.press("t").await?;
    student
        .wait_text("#bench-error", "closed: hand in what you have")
        .await?;
    student.close().await?;
    b.close().await
}
