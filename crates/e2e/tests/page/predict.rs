//! Readings predicted on paper: chosen by the instructor, written by a student by keyboard, also while the network is gone.

use cimento_e2e::{Browser, Result, Server};

const ENTER: &str = "\u{e007}";

async fn given_out(b: &Browser) -> Result<()> {
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/1/fault-bench").await?;
    b.click("#save-lesson").await?;
    let asked_for = b.css("#asked-for").await?;
    asked_for.select_by_value("predictions").await?;
    b.wait_text("[aria-label='Readings to ask for']", "12.6")
        .await?;
    assert!(
        b.value("#lesson-title")
            .await?
            .contains("what will the meter show?")
    );
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.click("#give-lesson").await?;
    b.wait_text("[aria-label='Lesson']", "Saved as").await?;
    b.go("/lessons").await?;
    b.wait_text("main", "Readings are predicted on paper")
        .await?;
    b.client.delete_all_cookies().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_student_predicts_by_keyboard_and_reads_what_was_right() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    given_out(&b).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug: what will the meter show?")
        .await?;
    b.wait_text("#asked-state", "Reading 1").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // What is no answer stays typed, says what would be one, and costs nothing.
    let first = "[aria-label='Reading 1, expected']";
    b.fill(first, &format!("lots{ENTER}")).await?;
    b.wait_text("[data-asked='1'] [role='alert']", "number")
        .await?;
    assert_eq!(b.value(first).await?, "lots");
    b.wait_text("#predicted-count", "0 of 8").await?;
    b.retype(first, &format!("12.6{ENTER}")).await?;
    b.wait_text("#predicted-count", "1 of 8").await?;
    b.wait_text("#asked-state", "Reading 2").await?;
    // Without network it says so, and it is taken down as soon as there is one again.
    b.cut(true).await?;
    b.press(&format!("0{ENTER}")).await?;
    b.wait_text("[data-asked='2'] [role='alert']", "cannot be reached")
        .await?;
    b.cut(false).await?;
    b.wait_text("#predicted-count", "2 of 8").await?;
    b.click("#hand-in").await?;
    b.wait_text("#missing", "6 readings are not predicted")
        .await?;
    b.hand_in_to("dalca").await?;
    b.wait_text("[data-criterion='prediction']", "nothing was written")
        .await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    assert!(!b.text("main").await?.contains("Step by step"));
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "long: in make thorough"]
async fn predictions_fit_a_tablet_and_a_telephone() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    given_out(&b).await?;
    b.sign_in("varga", "red-and-black").await?;
    for (width, height) in [(820, 1180), (390, 844)] {
        b.screen(width, height, true).await?;
        b.go("/").await?;
        b.open_work("Baggage tug: what will the meter show?")
            .await?;
        b.wait_text("#asked-state", "Reading 1").await?;
        let misfits = "
            const shown = [...document.querySelectorAll('main *')].map((e) => [e, e.getBoundingClientRect()])
                .filter(([e, r]) => r.width > 1 && r.height > 1 && !e.closest('svg, .view-controls'));
            const off = shown.filter(([, r]) => r.right > innerWidth + 1 || r.left < -1);
            const low = shown.filter(([e, r]) => e.matches('button, select, input') && r.height < 43.5);
            return [...off, ...low].map(([e, r]) => (e.ariaLabel || e.id || e.className) + ' ' + r.right + ' ' + r.height)
                .concat(document.documentElement.scrollWidth > innerWidth ? ['sideways'] : []).slice(0, 8);";
        let found = b.client.execute(misfits, vec![]).await?;
        assert_eq!(found, serde_json::json!([]), "{width} × {height}");
    }
    b.close().await
}
