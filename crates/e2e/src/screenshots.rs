//! Takes the pictures of `docs/screenshots` from the demo school: `make screenshots`.

use cimento_e2e::{Browser, Result, Server, root};

pub async fn take() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start_with_term(&folder.path().join("demo.db")).await?;
    let shots = root().join("docs/screenshots");
    std::fs::create_dir_all(&shots)?;
    let browser = Browser::open(&server.url).await?;

    browser.sign_in("dalca", "bench-and-meter").await?;
    browser.go("/people").await?;
    browser.css("[data-person='varga']").await?;
    browser.picture(&shots.join("people.png")).await?;
    browser.go("/classes").await?;
    browser
        .wait_text("[data-class='Ground equipment, first year']", "Given out")
        .await?;
    browser.picture(&shots.join("classes.png")).await?;
    browser.go("/circuits/1/fault-bench").await?;
    browser.css("[data-point='K3.86']").await?;
    browser.set_fault("W8", "broken").await?;
    browser.wait_text("h1", "W8 open").await?;
    browser.picture(&shots.join("fault-bench.png")).await?;
    browser.go("/courses/1").await?;
    browser.click("#prove").await?;
    browser
        .wait_text(
            "[data-course-lesson='Baggage tug will not crank']",
            "readings",
        )
        .await?;
    browser.picture(&shots.join("course.png")).await?;
    // What an instructor tries as a student does: the second lesson of the course, with half of it written.
    browser.go("/lessons").await?;
    browser
        .click("[data-lesson='Sweeper: where are the volts?'] [data-try]")
        .await?;
    browser.click("#begin").await?;
    for (no, volts) in ["12.6", "12.6", "0", "12.6", "0"].iter().enumerate() {
        let field = format!("[aria-label='Reading {}, expected']", no + 1);
        browser.fill(&field, &format!("{volts}\u{e007}")).await?;
    }
    browser.wait_text("#predicted-count", "5 of 12").await?;
    browser.picture(&shots.join("predict.png")).await?;
    sheets(&browser, &shots).await?;
    repair(&browser, &shots).await?;
    browser.close().await?;

    let browser = Browser::open(&server.url).await?;
    browser.sign_in("varga", "red-and-black").await?;
    browser.go("/attempts/1").await?;
    browser.css("[data-point='K3.86']").await?;
    work(&browser).await?;
    browser.picture(&shots.join("bench.png")).await?;
    finish(&browser).await?;
    browser.wait_text("#total", "/ 100").await?;
    browser
        .wait_text("[aria-label='Reference plan']", "K3.86")
        .await?;
    browser.picture(&shots.join("mark-sheet.png")).await?;
    browser
        .click_xpath("//li/button[contains(.,'Read 12.59 V at C12.4f')]")
        .await?;
    let down = "document.querySelector('.debrief').scrollIntoView()";
    browser.client.execute(down, vec![]).await?;
    browser.css(".debrief [data-cleared]").await?;
    browser.picture(&shots.join("debrief.png")).await?;

    browser.open_work("Sweeper: one lamp stays dark").await?;
    browser.css("#begin").await?;
    browser.picture(&shots.join("before.png")).await?;
    browser
        .open_work("Baggage tug dies as the key is let go")
        .await?;
    browser.css("[data-point='T1.1']").await?;
    browser
        .click_xpath("//div[@data-control='key']//*[normalize-space()='start']")
        .await?;
    browser.wait_text("#notices", "fires").await?;
    browser.click("#open-scope").await?;
    for channel in ["B1.1", "pickup round W12", "clamp round W6"] {
        browser.pick("scope-channels", channel).await?;
    }
    browser.fill("#scope-level", "60").await?;
    for (channel, words) in [("B1.1", "100 V to"), ("W12", "5 kV to"), ("W6", "1 A to")] {
        browser.choose_pattern(channel, words).await?;
    }
    browser.click("#scope-capture").await?;
    browser.css("#scope svg[role=img]").await?;
    browser.picture(&shots.join("scope.png")).await?;

    browser.go("/attempts/1/paper").await?;
    browser.css("[data-point='K3.86']").await?;
    browser.picture(&shots.join("paper.png")).await?;
    browser
        .open_work("Practice: sweeper, one lamp stays dark")
        .await?;
    browser.css("[data-point='C5.1f']").await?;
    browser.click("#try-complaint").await?;
    browser.wait_text("#notices", "lamp").await?;
    for level in 1..=3 {
        browser.click("#hint").await?;
        browser
            .css(&format!("[aria-label='Hints'] li:nth-child({level})"))
            .await?;
    }
    browser.close().await?;

    let browser = Browser::open(&server.url).await?;
    browser.sign_in("dalca", "bench-and-meter").await?;
    browser.go("/circuits/1/workshop").await?;
    browser.css("[data-point='K3.86']").await?;
    browser.picture(&shots.join("workshop.png")).await?;
    browser.go("/classes").await?;
    browser
        .click_xpath("//a[starts-with(@aria-label,'Live: Practice')][1]")
        .await?;
    browser
        .wait_text("[data-bench='I. Varga']", "3 hints")
        .await?;
    browser.picture(&shots.join("live.png")).await?;
    browser.go("/classes").await?;
    browser
        .click_xpath("//a[@aria-label='Book of marks of Ground equipment, second year']")
        .await?;
    browser.css("[data-student='Arno Abelind'] a").await?;
    browser.picture(&shots.join("book.png")).await?;
    browser.go("/classes").await?;
    browser
        .click_xpath("(//a[starts-with(@aria-label,'Insight: Belt loader: in neutral')])[1]")
        .await?;
    browser.css(".bar-cell").await?;
    browser.picture(&shots.join("insight.png")).await?;
    // Last: what an instructor's list of lessons asks for keeps the server busy.
    browser.go("/lessons").await?;
    browser.css("[data-prospect]").await?;
    browser.picture(&shots.join("lessons.png")).await?;
    browser.close().await
}

/// Half of a good attempt: four readings with their predictions and verdicts.
async fn work(b: &Browser) -> Result<()> {
    b.click("#try-complaint").await?;
    b.wait_text("#notices", "dash lamp").await?;
    let readings: [(&str, &str, &str, &[&str]); 4] = [
        ("BAT.+", "11.5", "too high", &[]),
        ("K3.86", "11.4", "too low", &["K3", "W12", "G4"]),
        ("C12.4f", "11.4", "normal", &["S1", "W7", "C12.4"]),
        ("C14.1m", "11.4", "too low", &["W9", "S2", "W10"]),
    ];
    for (point, expected, verdict, cleared) in readings {
        b.click_point(point).await?;
        b.fill("#expected", expected).await?;
        b.click("#take-reading").await?;
        b.xpath(&format!(
            "//table[contains(@class,'ledger')]//td[contains(.,'{point} ')]"
        ))
        .await?;
        b.click_xpath(&format!(
            "//div[@aria-label='Verdict']/button[normalize-space()='{verdict}']"
        ))
        .await?;
        b.xpath(&format!(
            "//tr[contains(@class,'chosen')]/td[normalize-space()='{verdict}']"
        ))
        .await?;
        for place in cleared {
            b.click_xpath(&format!(
                "//button[contains(@class,'chip')][normalize-space()='{place}']"
            ))
            .await?;
        }
        if !cleared.is_empty() {
            b.click("#clear-places").await?;
        }
        for place in cleared {
            b.css(&format!("[data-cleared='{place}']")).await?;
        }
        if point == "C12.4f" {
            b.pick("claim-places", "C12.1").await?;
            b.click("#clear-places").await?;
            b.css("[data-cleared='C12.1']").await?;
        }
    }
    Ok(())
}

/// The other half: name, repair, prove, hand in.
async fn finish(b: &Browser) -> Result<()> {
    b.click("#name-fault").await?;
    b.pick("conclude-place", "W8").await?;
    b.pick("conclude-how", "open").await?;
    b.click("#conclude").await?;
    b.wait_text("[aria-label='Conclusion']", "Named: W8 open")
        .await?;
    b.click("#repair").await?;
    b.pick("conclude-place", "W8").await?;
    b.pick("conclude-how", "splice").await?;
    b.click("#conclude").await?;
    b.wait_text("[aria-label='Conclusion']", "W8 opened and joined")
        .await?;
    b.click("#try-complaint").await?;
    b.wait_text("#notices", "cranks").await?;
    b.click("#hand-in").await?;
    b.click("#confirm-hand-in").await
}

/// A survey and a plug without marks, each half filled in.
async fn sheets(browser: &Browser, shots: &std::path::Path) -> Result<()> {
    browser.go("/lessons").await?;
    browser
        .click("[data-lesson='Belt loader: go over the cables before winter'] [data-try]")
        .await?;
    browser.click("#begin").await?;
    browser.choose("key", "start").await?;
    for (row, is) in [(1, "renew"), (2, "keep"), (3, "clean")] {
        measured(browser, &format!("[data-row='{row}'] .piece"), row).await?;
        let field = browser.css(&format!("[data-row='{row}'] select")).await?;
        field.select_by_value(is).await?;
        browser
            .wait_text("#entered-count", &format!("{row} of"))
            .await?;
    }
    browser.picture(&shots.join("survey.png")).await?;
    browser.go("/lessons").await?;
    browser
        .click("[data-lesson='Twin fire pump: a plug that nobody marked'] [data-try]")
        .await?;
    browser.click("#begin").await?;
    for (n, lead) in ["a", "b", "c", "d", "e", "f"].iter().enumerate() {
        let cell = format!("[aria-label^='Red on {lead}, black on metal:engine']");
        measured(browser, &cell, n + 1).await?;
    }
    browser.picture(&shots.join("unmarked.png")).await?;
    Ok(())
}

/// A repair, as it is chosen how it is made.
async fn repair(browser: &Browser, shots: &std::path::Path) -> Result<()> {
    browser.go("/lessons").await?;
    browser
        .click("[data-lesson='Ground power unit: reduced power after a bump'] [data-try]")
        .await?;
    browser.click("#begin").await?;
    browser.css("[data-point='BAT.+']").await?;
    browser.click("#repair").await?;
    browser.pick("conclude-place", "W12").await?;
    browser.pick("conclude-how", "splice").await?;
    for (question, word) in [
        ("method", "solder"),
        ("sleeve", "shrink"),
        ("route", "clear"),
    ] {
        let field = browser.css(&format!("#craft-{question}")).await?;
        field.select_by_value(word).await?;
    }
    browser.picture(&shots.join("repair.png")).await
}

/// Puts the leads where something says, and takes a reading.
async fn measured(browser: &Browser, css: &str, no: usize) -> Result<()> {
    browser.click(css).await?;
    browser.settle().await;
    browser.click("#take-reading").await?;
    let line = format!("[aria-label='Readings'] tbody tr:nth-of-type({no})");
    let _ = browser.css(&line).await?;
    browser.settle().await;
    Ok(())
}
