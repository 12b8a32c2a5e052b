//! The list of circuits: found, put away, taken back, deleted.

use cimento_e2e::{Browser, Result, Server};

const FIND: &str = "#find-circuit";
const ROWS: &str = "//table[contains(@class, 'sheet-table')]";

/// What was tried out is put away by the keyboard, found among those put away, and deleted for good after a question.
#[tokio::test(flavor = "multi_thread")]
async fn what_was_tried_out_is_tidied_up() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits").await?;
    b.click("[aria-label='Copy: Sweeper, work and marker lamps on one ground']")
        .await?;
    b.wait_text(
        "h1, .crumbs",
        "Sweeper, work and marker lamps on one ground, copy",
    )
    .await?;
    b.go("/circuits").await?;
    b.fill(FIND, "marker COPY").await?;
    b.wait_text("main", "Sweeper, work and marker lamps on one ground, copy")
        .await?;
    assert!(!b.text("main table").await?.contains("Baggage tug"));
    b.fill(
        "[aria-label='Put away: Sweeper, work and marker lamps on one ground, copy']",
        "\u{e007}",
    )
    .await?;
    b.wait_text("main table", "No circuit has such a title")
        .await?;
    b.click_xpath("//label[contains(., 'Those put away')]")
        .await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // Taken back, and put away once more.
    b.click("[aria-label='Take back: Sweeper, work and marker lamps on one ground, copy']")
        .await?;
    b.wait_text("main table", "No circuit has such a title")
        .await?;
    b.click_xpath("//label[contains(., 'Those put away')]")
        .await?;
    b.click("[aria-label='Put away: Sweeper, work and marker lamps on one ground, copy']")
        .await?;
    b.click_xpath("//label[contains(., 'Those put away')]")
        .await?;
    let delete = "[aria-label='Delete: Sweeper, work and marker lamps on one ground, copy']";
    b.click(delete).await?;
    b.wait_text(".ant-popconfirm", "for good?").await?;
    b.click_xpath("//*[contains(@class, 'ant-popconfirm')]//button[normalize-space()='Delete']")
        .await?;
    b.wait_text("main table", "No circuit has such a title")
        .await?;
    b.click_xpath("//label[contains(., 'Those put away')]")
        .await?;
    b.retype(FIND, " ").await?;
    b.wait_text("main table", "Baggage tug").await?;
    b.css(FIND).await?;
    assert!(!b.text("main table").await?.contains("copy"));
    b.xpath(&format!(
        "{ROWS}//a[contains(., 'Sweeper, work and marker lamps on one ground')]"
    ))
    .await?;
    b.close().await
}
