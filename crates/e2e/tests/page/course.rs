//! A course: put in order, proven, given out, begun at the page before the bench, and told afterwards; and lessons that the
//! maker proposes.

use cimento_e2e::{Browser, Result, Server};

const ENTER: &str = "\u{e007}";

/// The titles of the course's lessons, in order.
async fn first_titles(b: &Browser) -> Result<Vec<String>> {
    let mut out = Vec::new();
    for n in 1..=3 {
        let row = format!("(//tr[@data-course-lesson])[{n}]");
        let row = b.xpath(&row).await?;
        out.push(row.attr("data-course-lesson").await?.unwrap_or_default());
    }
    Ok(out)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_course_is_put_in_order_given_out_and_worked() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/courses").await?;
    b.click_xpath("//a[normalize-space()='Ground equipment, electrical diagnosis']")
        .await?;
    b.css("[data-course-lesson]").await?;
    let before = first_titles(&b).await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // By keyboard, a lesson goes one place on, and back again.
    let later = format!("[aria-label='{}: later']", before[1]);
    b.xpath(&format!("//button[@aria-label='{}: later']", before[1]))
        .await?
        .send_keys(ENTER)
        .await?;
    b.xpath(&format!(
        "(//tr[@data-course-lesson])[3][@data-course-lesson='{}']",
        before[1]
    ))
    .await?;
    b.go("/courses/1").await?;
    b.css(&later).await?;
    assert_eq!(first_titles(&b).await?[2], before[1], "it is kept");
    b.click(&format!("[aria-label='{}: earlier']", before[1]))
        .await?;
    b.xpath(&format!(
        "(//tr[@data-course-lesson])[2][@data-course-lesson='{}']",
        before[1]
    ))
    .await?;
    // What its lessons practise.
    b.click("#skill-map").await?;
    b.wait_text("[aria-label='Skills of the course']", "shared ground")
        .await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");

    // A student begins at the page before the bench, by keyboard.
    let student = Browser::open(&server.url).await?;
    student.sign_in("varga", "red-and-black").await?;
    student.open_work("Sweeper: one lamp stays dark").await?;
    student
        .wait_text("#before", "Find where a path ends")
        .await?;
    let found = student.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    let text = student.text("#before").await?;
    assert!(!text.contains("halving a path"), "no skill yet: {text}");
    student.press(ENTER).await?;
    student.css("[data-point='BAT.+']").await?;
    student.press("t").await?;
    student.wait_text("#notices", "lamp").await?;
    student
        .click_xpath("//button[normalize-space()='Goal']")
        .await?;
    student
        .wait_text(".ant-modal", "Find where a path ends")
        .await?;
    student.press("\u{e00c}").await?;
    student.settle().await;
    student.click("#hand-in").await?;
    student.click("#confirm-hand-in").await?;
    student.wait_text("#practised", "halving a path").await?;
    student.close().await?;
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_maker_proposes_lessons_that_are_saved_and_given_out() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits").await?;
    b.click("[aria-label='Make lessons: Sweeper, work and marker lamps on one ground']")
        .await?;
    b.click("#find-lessons").await?;
    b.css("[data-proposed]").await?;
    let found = b.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    b.click_xpath("(//button[normalize-space()='Save as a lesson'])[1]")
        .await?;
    b.click("[data-proposed] [data-give]").await?;
    b.click("#give-out").await?;
    b.settle().await;
    b.go("/classes").await?;
    b.wait_text("[data-class='Ground equipment, first year']", "Sweeper: ")
        .await?;
    b.close().await
}
