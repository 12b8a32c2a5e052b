//! No view has barriers that axe-core finds against WCAG 2.2 AA.

use cimento_e2e::{Browser, Result, Server};

async fn none(b: &Browser, view: &str, found: &mut Vec<String>) -> Result<()> {
    let barriers = b.barriers().await?;
    found.extend(barriers.into_iter().map(|f| format!("{view}: {f}")));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn no_view_has_barriers() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let mut found = Vec::new();
    let b = Browser::open(&server.url).await?;
    b.go("/").await?;
    b.css("#name").await?;
    none(&b, "sign in", &mut found).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.css("#help-now").await?;
    none(&b, "start", &mut found).await?;
    b.go("/circuits").await?;
    b.xpath("//a[normalize-space()='Baggage tug, starting']")
        .await?;
    none(&b, "circuits", &mut found).await?;
    b.go("/circuits/1/workshop").await?;
    b.css("[data-point='K3.86']").await?;
    none(&b, "workshop", &mut found).await?;
    b.click("#faces").await?;
    b.css("[data-cavity='C12.4m']").await?;
    none(&b, "connector faces", &mut found).await?;
    b.go("/circuits/1/fault-bench").await?;
    b.css("[data-point='K3.86']").await?;
    b.set_fault("W8", "broken").await?;
    b.wait_text("h1", "W8 open").await?;
    none(&b, "fault bench", &mut found).await?;
    b.click("#save-lesson").await?;
    b.css("#lesson-title").await?;
    b.wait_text("#preview", "proven in").await?;
    none(&b, "save a lesson", &mut found).await?;
    for panel in [
        "What students may do",
        "Time, method and repair",
        "Marks and limits",
    ] {
        let head = format!("//*[@role='button'][contains(.,'{panel}')]");
        b.click_xpath(&head).await?;
    }
    b.css("#weight-clearing").await?;
    none(&b, "a lesson's rules", &mut found).await?;
    b.go("/circuits/1/paper").await?;
    b.wait_text("[aria-label='Harness check sheet']", "C12.4f")
        .await?;
    none(&b, "key on paper", &mut found).await?;
    b.close().await?;

    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.css("a[href='/attempts/1']").await?;
    none(&b, "work orders", &mut found).await?;
    b.go("/attempts/1/paper").await?;
    b.css("[data-point='K3.86']").await?;
    b.wait_text("[aria-label='Bench sheet']", "Expected")
        .await?;
    none(&b, "on paper", &mut found).await?;
    b.go("/attempts/1").await?;
    b.css("[data-point='K3.86']").await?;
    b.click("#try-complaint").await?;
    b.wait_text("#notices", "dash lamp").await?;
    b.click_point("BAT.+").await?;
    b.fill("#expected", "12.6").await?;
    b.click("#take-reading").await?;
    b.wait_text("#display", "12.").await?;
    none(&b, "bench", &mut found).await?;
    b.click("#open-scope").await?;
    b.css("#scope-channels").await?;
    b.pick("scope-channels", "BAT.+").await?;
    none(&b, "oscilloscope", &mut found).await?;
    b.press("\u{e00c}").await?;
    b.click("#name-fault").await?;
    b.css("#conclude-place").await?;
    none(&b, "name the fault", &mut found).await?;
    b.press("\u{e00c}").await?;
    b.settle().await;
    b.click("#hand-in").await?;
    b.wait_text("#missing", "No fault is named.").await?;
    b.click("#confirm-hand-in").await?;
    b.wait_text("#total", "/ 100").await?;
    b.css(".debrief").await?;
    none(&b, "mark sheet", &mut found).await?;
    for (title, view) in [
        ("Practice: sweeper, one lamp stays dark", "practice"),
        ("Try the tools: ground power unit, cabin", "tools"),
    ] {
        b.open_work(title).await?;
        b.css("[data-point='BAT.+']").await?;
        none(&b, view, &mut found).await?;
    }
    b.close().await?;

    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/people").await?;
    b.css("[data-person='varga']").await?;
    none(&b, "people", &mut found).await?;
    b.fill("#new-students", "A. Moreno").await?;
    b.click("#add-students").await?;
    b.css(".sign-in-cards li").await?;
    none(&b, "sign-in cards", &mut found).await?;
    b.click("#own-password").await?;
    b.css("#old-password").await?;
    none(&b, "one's own password", &mut found).await?;
    b.press("\u{e00c}").await?;
    b.go("/classes").await?;
    b.css("[data-assignment]").await?;
    none(&b, "classes", &mut found).await?;
    b.click("[data-assignment] button").await?;
    b.css("#terms-sheets").await?;
    none(&b, "terms", &mut found).await?;
    b.press("\u{e00c}").await?;
    b.settle().await;
    b.click_xpath("(//a[normalize-space()='Live'])[1]").await?;
    b.css("[data-bench]").await?;
    none(&b, "a class live", &mut found).await?;
    b.click("#say-to-all").await?;
    b.css(".ant-popover input").await?;
    none(&b, "a word to all", &mut found).await?;
    b.press("\u{e00c}").await?;
    b.click("#ask-class").await?;
    b.css("#vote-red").await?;
    none(&b, "ask the class", &mut found).await?;
    b.pick("vote-red", "BAT.+").await?;
    b.click("#ask-it").await?;
    b.wait_text("#vote", "have answered").await?;
    none(&b, "a vote", &mut found).await?;
    b.click("#projector").await?;
    b.css(".projecting").await?;
    none(&b, "a class live, projected", &mut found).await?;
    b.click("#projector").await?;
    for (view, there) in [
        ("assignments/1/insight", ".bar-cell"),
        ("assignments/1/debriefs", "fieldset"),
        ("classes/1/insight", ".weeks"),
    ] {
        b.go(&format!("/{view}")).await?;
        b.css(there).await?;
        none(&b, view, &mut found).await?;
    }
    // Last: what an instructor's list of lessons asks for keeps the server busy.
    b.go("/lessons").await?;
    b.css("[data-prospect]").await?;
    none(&b, "lessons", &mut found).await?;
    b.close().await?;
    assert!(found.is_empty(), "{found:#?}");
    Ok(())
}
