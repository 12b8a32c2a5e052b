//! The first minute at a bench: by keyboard, and on a telephone with a finger.

use cimento_e2e::{Browser, Result, Server};

const ENTER: &str = "\u{e007}";
const STRIP: &str = "#first-minute";

/// Whoever has done nothing yet is shown how a reading is taken; it says the next thing as the last is done, and can be
/// seen again from the list of keys.
#[tokio::test(flavor = "multi_thread")]
async fn a_reading_is_shown_step_by_step() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("oduya", "red-and-black").await?;
    b.click_xpath("//button[normalize-space()='Show me']")
        .await?;
    b.wait_text(STRIP, "1 of 5").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.press("l").await?;
    b.wait_text(STRIP, "2 of 5").await?;
    b.press("r").await?;
    b.press("H1.1").await?;
    b.press(ENTER).await?;
    b.wait_text(STRIP, "3 of 5").await?;
    b.fill("#expected", "12.4").await?;
    b.wait_text(STRIP, "4 of 5").await?;
    b.press(ENTER).await?;
    b.wait_text(STRIP, "5 of 5").await?;
    b.press("1").await?;
    b.wait_text(STRIP, "That is all of it").await?;
    // It is offered once, and there for whoever wants it again.
    b.go("/attempts").await?;
    b.wait_text("main", "To do").await?;
    let text = b.text("main").await?;
    assert!(!text.contains("First time"), "{text}");
    b.open_work("Baggage tug will not crank").await?;
    b.css("[data-point='K3.86']").await?;
    b.press("?").await?;
    b.click_xpath("//button[normalize-space()='Show the first minute at a bench']")
        .await?;
    b.wait_text(STRIP, "1 of 5").await?;
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_first_minute_fits_a_telephone() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.phone().await?;
    b.sign_in("oduya", "red-and-black").await?;
    b.click_xpath("//button[normalize-space()='Show me']")
        .await?;
    b.wait_text(STRIP, "1 of 5").await?;
    b.click("[data-control='work lamp'] label:last-child")
        .await?;
    b.wait_text(STRIP, "2 of 5").await?;
    b.click_point("H1.1").await?;
    b.wait_text(STRIP, "3 of 5").await?;
    b.click_xpath("//button[normalize-space()='Leave it']")
        .await?;
    b.xpath("//main[contains(@class, 'bench')][not(preceding-sibling::section)]")
        .await?;
    b.close().await
}
