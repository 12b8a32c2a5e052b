//! A machine with a binder whose plugs look alike: from the lesson to the mark sheet, by mouse, keyboard and finger.

use cimento_e2e::{Browser, Result, Server};

const ESCAPE: &str = "\u{e00c}";

/// Makes the lesson as its instructor does, and gives it to the class.
async fn given_out(b: &Browser) -> Result<()> {
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/3/fault-bench").await?;
    b.set_fault("W15", "broken through").await?;
    b.wait_text("h1", "W15 open").await?;
    b.click("#save-lesson").await?;
    b.retype("#lesson-title", "A lamp, by the book").await?;
    b.click_xpath("//*[@role='button'][contains(., 'Time, method and repair')]")
        .await?;
    b.click("#rule-look-alikes").await?;
    b.click_xpath("//*[@role='button'][contains(., 'as a binder')]")
        .await?;
    b.click("#has-binder").await?;
    b.pick("binder-others", "Sweeper, ignition").await?;
    b.press(ESCAPE).await?;
    b.click("#binder-variant").await?;
    b.settle().await;
    b.press("\u{e007}").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.click("#give-lesson").await?;
    b.wait_text("[aria-label='Lesson']", "Saved as").await?;
    b.client.delete_all_cookies().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_is_found_and_a_foreign_sheet_noticed() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    given_out(&b).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("A lamp, by the book").await?;
    // The points are there by name, and where the diagram is.
    b.wait_text(".point-list", "Its diagram is in the binder.")
        .await?;
    b.press("d").await?;
    b.wait_text(".binder", "Nothing lies open yet.").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // The wrong page first, without a network: nothing is lost, and nothing opens.
    b.cut(true).await?;
    b.click("[data-sheet='diagram-1']").await?;
    b.wait_text("#bench-error", "cannot be reached").await?;
    b.cut(false).await?;
    b.click("[data-sheet='diagram-1']").await?;
    b.wait_text(".open-sheet h2", "Sweeper, ignition").await?;
    b.click("[data-sheet='diagram-2']").await?;
    b.wait_text(".open-sheet h2", "Sweeper, work and marker lamps")
        .await?;
    for (sheet, words) in [
        ("locations", "Where"),
        ("specifications", "Sound"),
        ("fuses", "Feeds"),
        ("connectors", "Cavity"),
    ] {
        b.click(&format!("[data-sheet='{sheet}']")).await?;
        b.wait_text(".open-sheet table", words).await?;
    }
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.click(".open-sheet caption button").await?;
    b.wait_text(".open-sheet caption", "another variant’s, you said")
        .await?;
    b.press(ESCAPE).await?;
    b.wait_text("#binder", "6 of 6").await?;
    // The diagram lies on the bench now, and one can sketch on it.
    b.css("svg [data-point='BAT.+']").await?;
    b.click_point("H2.1").await?;
    b.click("#card-more").await?;
    b.click_xpath("//li[contains(., 'Mark it on the diagram')]")
        .await?;
    b.css("#sketch-text").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.press("dark here\u{e007}").await?;
    b.wait_text("svg .sketch", "dark here").await?;

    // On a telephone the binder is one column, and can be read to its end.
    b.screen(390, 844, true).await?;
    b.go("/").await?;
    b.open_work("A lamp, by the book").await?;
    b.click("#binder").await?;
    b.click("[data-sheet='fuses']").await?;
    b.wait_text(".open-sheet h2", "Fuses").await?;
    let wide = "return document.documentElement.scrollWidth > innerWidth";
    let wide = b.client.execute(wide, vec![]).await?;
    assert_eq!(wide, false);
    b.screen(1280, 800, false).await?;
    b.go("/notebook").await?;
    b.wait_text("[data-sketches]", "H2.1: dark here").await?;
    b.go("/").await?;
    b.open_work("A lamp, by the book").await?;
    b.css("[data-point='BAT.+']").await?;
    b.press("h").await?;
    b.hand_in_to("dalca").await?;
    b.wait_text("main", "A lamp, by the book").await?;
    let page = b.text("main").await?;
    assert!(!page.contains("another variant’s sheet believed"), "{page}");
    b.close().await
}
