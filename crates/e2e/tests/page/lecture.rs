//! The class as a whole: it predicts a reading, its work is projected without names, gone through side by side, and
//! tells what misled; and a machine that came in for a check goes back as it is.

use std::time::Duration;

use cimento_e2e::{Browser, Result, Server};
use fantoccini::actions::{
    InputSource, MOUSE_BUTTON_LEFT, MouseActions, PointerAction, TouchActions,
};
use serde_json::Value;

const LEFT: &str = "\u{e012}";
const RIGHT: &str = "\u{e014}";

async fn given_to_oduya(b: &Browser) -> Result<()> {
    b.go("/lessons").await?;
    b.click("[data-give='1']").await?;
    b.click_xpath("//label[normalize-space()='some of them']")
        .await?;
    b.click_xpath("//label[normalize-space()='T. Oduya']")
        .await?;
    b.pick("terms-sheets", "as soon as").await?;
    b.click("#give-out").await?;
    b.settle().await;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_class_predicts_and_its_work_is_projected() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.wait_text("#help-now", "Nobody at a bench is stuck")
        .await?;
    given_to_oduya(&b).await?;
    let student = Browser::open(&server.url).await?;
    student.sign_in("oduya", "red-and-black").await?;
    student.wait_text("main", "To do").await?;
    student
        .click_xpath("//section[@aria-label='To do']//tbody/tr[1]//a[normalize-space()='Baggage tug will not crank']")
        .await?;
    student.css("[data-point='K3.86']").await?;

    // The question comes to the bench, the answer to the front; the reading to both when it is shown.
    b.go("/classes").await?;
    b.click_xpath("(//a[normalize-space()='Live'])[1]").await?;
    b.css("[data-bench='T. Oduya']").await?;
    b.click("#ask-class").await?;
    b.pick("vote-state", "start").await?;
    b.pick("vote-red", "K3.86").await?;
    b.click("#ask-it").await?;
    student
        .wait_text(".vote-card", "DC volts at K3.86 to BAT.-")
        .await?;
    student.fill("#vote-expected", "plenty").await?;
    student.press("\u{e007}").await?;
    student
        .wait_text(".vote-card [role=alert]", "plenty")
        .await?;
    student.retype("#vote-expected", "11.4\u{e007}").await?;
    student.wait_text(".vote-card", "You said 11.4").await?;
    b.wait_text("#vote", "1 of 1 have answered").await?;
    let text = b.text("#vote").await?;
    assert!(!text.contains("11.44"), "not shown yet: {text}");
    b.click("#show-vote").await?;
    b.wait_text("#vote", "The meter shows 11.44 V").await?;
    student.wait_text(".vote-card", "right").await?;
    b.click("#end-vote").await?;

    // Projected, the page names nobody, and the lessons no fault; so it stays until one projects no more.
    b.click("#projector").await?;
    b.wait_text("[data-bench]", "Bench 1").await?;
    let text = b.text("main").await?;
    assert!(!text.contains("Oduya"), "{text}");
    b.go("/lessons").await?;
    b.css("[data-lesson]").await?;
    let text = b.text("main").await?;
    assert!(!text.contains("W8 open"), "{text}");
    b.go("/people").await?;
    b.wait_text("main", "hidden while this is projected")
        .await?;
    b.go("/circuits/1/fault-bench").await?;
    b.css("[data-point='K3.86']").await?;
    let text = b.text("main").await?;
    assert!(!text.contains("Answer key"), "{text}");

    // Done: the way is gone through with the arrow keys.
    student.press("t").await?;
    student.click("#hand-in").await?;
    student.click("#confirm-hand-in").await?;
    student.css("#total").await?;
    student.go("/attempts").await?;
    student.wait_text("#came", "To practise next").await?;
    student.close().await?;
    b.go("/classes").await?;
    b.click_xpath("(//a[normalize-space()='Debrief'])[1]")
        .await?;
    b.click_xpath("(//fieldset//label)[1]").await?;
    b.wait_text("[aria-label='Attempt A']", "suspects").await?;
    let text = b.text("main").await?;
    assert!(!text.contains("Oduya"), "{text}");
    b.wait_text("#debrief-at", "step 1 of").await?;
    b.press(RIGHT).await?;
    b.wait_text("#debrief-at", "step 2 of").await?;
    b.press(LEFT).await?;
    b.wait_text("#debrief-at", "step 1 of").await?;
    b.click("#projector").await?;
    b.wait_text("fieldset", "T. Oduya").await?;
    b.go("/classes").await?;
    b.click_xpath(
        "(//a[normalize-space()='Insight'][contains(@aria-label,'Baggage tug will not crank')])[1]",
    )
    .await?;
    b.wait_text("main", "From 1 marked attempt").await?;
    b.close().await
}

/// A sound machine is given out for a check; its student measures, says that nothing is wrong, and was right.
#[tokio::test(flavor = "multi_thread")]
#[ignore = "long: in make thorough"]
async fn a_sound_machine_comes_in_for_a_check() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits").await?;
    b.click_xpath("//a[normalize-space()='Sweeper, work and marker lamps on one ground']")
        .await?;
    b.css("[data-point='BAT.+']").await?;
    b.click("#save-lesson").await?;
    b.pick("lesson-job", "for a check").await?;
    b.retype("#lesson-title", "Sweeper: yearly check").await?;
    b.wait_text("#preview", "proven in").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.pick("terms-sheets", "as soon as").await?;
    b.click("#give-lesson").await?;
    b.settle().await;
    b.go("/lessons").await?;
    b.wait_text(
        "[data-lesson='Sweeper: yearly check']",
        "the machine is sound",
    )
    .await?;
    b.close().await?;

    let student = Browser::open(&server.url).await?;
    student.sign_in("oduya", "red-and-black").await?;
    student.open_work("Sweeper: yearly check").await?;
    student.css("[data-point='BAT.+']").await?;
    student.wait_text("main", "it may be sound").await?;
    student.click("#hand-in").await?;
    student
        .wait_text("#missing", "it was not said that there is none")
        .await?;
    student.press("\u{e00c}").await?;
    student.settle().await;
    student.click("#name-fault").await?;
    student.click("#no-fault").await?;
    student
        .wait_text("[aria-label='Conclusion']", "No fault found")
        .await?;
    student.click("#hand-in").await?;
    student.click("#confirm-hand-in").await?;
    student
        .wait_text(
            "[data-criterion='conclusion']",
            "Found no fault, and there is none",
        )
        .await?;
    student.close().await
}

/// The middle of something on the screen, in pixels.
async fn middle(b: &Browser, css: &str) -> Result<(f64, f64)> {
    b.css(css).await?;
    let script = "
        const r = document.querySelector(arguments[0]).getBoundingClientRect();
        return [r.x + r.width / 2, r.y + r.height / 2];";
    let at = b.client.execute(script, vec![Value::from(css)]).await?;
    Ok((at[0].as_f64().unwrap(), at[1].as_f64().unwrap()))
}

/// The acts of dragging from one place to another.
fn dragged(from: (f64, f64), to: (f64, f64)) -> [PointerAction; 5] {
    let go = |(x, y): (f64, f64)| PointerAction::MoveTo {
        duration: Some(Duration::from_millis(60)),
        x,
        y,
    };
    let half = (f64::midpoint(from.0, to.0), f64::midpoint(from.1, to.1));
    let button = MOUSE_BUTTON_LEFT;
    let [down, up] = [PointerAction::Down { button }, PointerAction::Up { button }];
    [go(from), down, go(half), go(to), up]
}

/// A class is seated by mouse, by finger and by keyboard, and is seen so again.
#[tokio::test(flavor = "multi_thread")]
async fn a_class_is_seated() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/classes").await?;
    b.click_xpath("//a[starts-with(@aria-label,'Live: Practice')][1]")
        .await?;
    b.css("[data-bench='I. Varga']").await?;
    b.click("#as-seats").await?;
    let place = |column: i32, row: i32| format!("[data-column='{column}'][data-row='{row}']");
    let from = middle(&b, "[data-seat='I. Varga'] button").await?;
    let to = middle(&b, &place(2, 1)).await?;
    let mouse = MouseActions::new("mouse".into());
    let mouse = dragged(from, to).into_iter().fold(mouse, InputSource::then);
    b.client.perform_actions(mouse).await?;
    b.css(&format!("{} [data-seat='I. Varga']", place(2, 1)))
        .await?;
    let from = middle(&b, "[data-seat='T. Oduya'] button").await?;
    let to = middle(&b, &place(0, 0)).await?;
    let finger = TouchActions::new("finger".into());
    let finger = dragged(from, to)
        .into_iter()
        .fold(finger, InputSource::then);
    b.client.perform_actions(finger).await?;
    b.css(&format!("{} [data-seat='T. Oduya']", place(0, 0)))
        .await?;
    let focus = "document.querySelector(\"[data-seat='T. Oduya'] button\").focus()";
    b.client.execute(focus, vec![]).await?;
    b.press(RIGHT).await?;
    b.css(&format!("{} [data-seat='T. Oduya']", place(1, 0)))
        .await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.go("/classes").await?;
    b.click_xpath("//a[starts-with(@aria-label,'Live: Practice')][1]")
        .await?;
    b.click("#as-seats").await?;
    b.css(&format!("{} [data-seat='I. Varga']", place(2, 1)))
        .await?;
    b.close().await
}

/// A screen whose code cannot be had says so instead of leaving nothing, and comes once the network is back.
#[tokio::test(flavor = "multi_thread")]
async fn a_screen_that_cannot_be_loaded_says_so() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.css("a[href='/attempts/1']").await?;
    b.cut(true).await?;
    b.click("a[href='/attempts/1']").await?;
    b.wait_text("h1", "This page could not be loaded").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.cut(false).await?;
    b.css("[data-point='K3.86']").await?;
    b.close().await
}
