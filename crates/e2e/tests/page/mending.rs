//! What is offered while one builds and while one sets a fault.

use cimento_e2e::{Browser, Result, Server};

use super::diagram::{by_mouse, on_screen};

/// A horn from the shelf's pictures is wired by what the check offers; undone, it is gone again.
#[tokio::test(flavor = "multi_thread")]
async fn what_the_workshop_finds_is_mended_by_a_press() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/1/workshop").await?;
    b.wait_text("#healthy", "39 places").await?;
    b.click("#shelf-pictures").await?;
    b.css(".shelves [data-kind='fuse'] svg path").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.click(".shelves [data-kind='horn']").await?;
    b.press("\u{e00c}").await?;
    b.wait_text("#findings", "terminal 1 of Y1 is not wired")
        .await?;
    let offered = |words: &str| format!("//*[@id='findings']//button[normalize-space()='{words}']");
    b.click_xpath(&offered("wire Y1.1 to the battery through a fuse"))
        .await?;
    b.click_xpath(&offered("wire Y1.2 to a ground")).await?;
    b.wait_text("[aria-label='Check']", "No problems found")
        .await?;
    let heard = b.wait_text("#healthy", "horn sounds").await?;
    assert!(heard.contains("44 places"), "{heard}");
    b.press("zzz").await?;
    b.wait_text("#healthy", "39 places").await?;
    b.close().await
}

/// A place is chosen on the diagram, how bad it is by a key on the slider, and the reading beside it follows; what
/// is set is changed from where it stands.
#[tokio::test(flavor = "multi_thread")]
async fn how_bad_a_fault_is_is_slid_with_its_reading_beside_it() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/1/fault-bench").await?;
    let wire = on_screen(&b, "[data-wire='W8']").await?;
    by_mouse(&b, wire).await?;
    b.click("#fault-here").await?;
    b.pick("fault-mode", "high resistance").await?;
    let at_first = b.wait_text("#told", "→").await?;
    assert!(at_first.contains("C12.4f"), "{at_first}");
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.fill(".ant-slider-handle", "\u{e010}").await?;
    let worse = b.wait_text("#told", "No crank").await?;
    assert_ne!(worse, at_first);
    b.click("#fault-add").await?;
    b.click("[aria-label='Change W8']").await?;
    let severity = b.value("#fault-severity").await?;
    assert!(severity.parse::<f64>()? > 20.0, "{severity}");
    b.retype("#fault-severity", "2").await?;
    b.wait_text("#told", "Cranks").await?;
    b.click("#fault-add").await?;
    b.wait_text("[aria-label='Faults']", "high resistance 2 Ω")
        .await?;
    b.close().await
}
