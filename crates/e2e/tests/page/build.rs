//! A machine wired in the browser: by a path, wire by wire, taken out and put in again, with the network cut.

use cimento_e2e::{Browser, Result, Server};

const ENTER: &str = "\u{e007}";

#[tokio::test(flavor = "multi_thread")]
async fn lamps_are_wired_by_keyboard_and_by_finger() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/3/fault-bench").await?;
    b.click("#save-lesson").await?;
    b.css("#asked-for").await?.select_by_value("build").await?;
    b.click("#by-list").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.click("#give-lesson").await?;
    b.wait_text("[aria-label='Lesson']", "Saved as").await?;
    b.client.delete_all_cookies().await?;

    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Sweeper: wire it").await?;
    b.wait_text("#wired-count", "0 put in of").await?;
    b.wait_text("[aria-label='Wire list']", "BAT.+").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // A path as one says it; the diagram is of what was wired.
    let say = "[aria-label='Say a path']";
    b.fill(say, &format!("BAT.+ > 2.5 RD 0.5 > F1.1{ENTER}"))
        .await?;
    b.wait_text("#wired-count", "1 put in").await?;
    assert_eq!(b.value(say).await?, "");
    // Wire by wire; what is no end is refused in place, and stays typed.
    b.fill("[aria-label='From']", "F1.2").await?;
    b.fill("[aria-label='To']", "S9.1").await?;
    b.fill("[aria-label='Area in mm²']", "1,5").await?;
    b.fill("[aria-label='Length in metres']", "1.5").await?;
    b.fill("[aria-label='Colour']", &format!("rd/bu{ENTER}"))
        .await?;
    b.wait_text("#bench-error", "S9").await?;
    assert_eq!(b.value("[aria-label='To']").await?, "S9.1");
    b.retype("[aria-label='To']", &format!("S1.1{ENTER}"))
        .await?;
    b.wait_text("#wired-count", "2 put in").await?;
    b.wait_text("[aria-label='Wires put in']", "1.5 mm² RD/BU")
        .await?;
    // Out, and in again.
    b.click("[data-wire]:last-child .ant-btn").await?;
    b.wait_text("#wired-count", "1 put in").await?;
    b.cut(true).await?;
    b.click("#put-back").await?;
    b.wait_text("#bench-error", "cannot be reached").await?;
    b.cut(false).await?;
    b.click("#put-back").await?;
    b.wait_text("#wired-count", "2 put in").await?;
    // On a tablet and a telephone nothing lies beyond the edge.
    for (width, height) in [(820, 1180), (390, 844)] {
        b.screen(width, height, true).await?;
        b.go("/").await?;
        b.open_work("Sweeper: wire it").await?;
        b.css("#view-reasoning, [aria-label='Wiring']").await?;
        let sideways = "return document.documentElement.scrollWidth > innerWidth";
        let found = b.client.execute(sideways, vec![]).await?;
        assert_eq!(found, serde_json::json!(false), "{width} × {height}");
    }
    b.screen(1280, 800, false).await?;
    b.go("/").await?;
    b.open_work("Sweeper: wire it").await?;
    b.click("#hand-in").await?;
    b.hand_in_to("dalca").await?;
    b.wait_text("[data-criterion='listed']", "is not there")
        .await?;
    b.close().await
}
