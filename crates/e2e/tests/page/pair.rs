//! Two students at one bench, each at a browser of their own.

use cimento_e2e::{Browser, Result, Server};

const ENTER: &str = "\u{e007}";

/// An instructor gives a lesson to two at one bench; what one asks shows at the other's, who writes what they expect
/// by keyboard; both read it, and each judges without the other's verdict.
#[tokio::test(flavor = "multi_thread")]
async fn two_work_at_one_bench() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let dalca = Browser::open(&server.url).await?;
    dalca.sign_in("dalca", "bench-and-meter").await?;
    dalca.go("/lessons").await?;
    dalca.click("[data-give='1']").await?;
    dalca
        .click_xpath("//label[normalize-space()='some of them']")
        .await?;
    for name in ["T. Oduya", "I. Varga"] {
        dalca
            .click_xpath(&format!("//label[normalize-space()='{name}']"))
            .await?;
    }
    // Kept as a group, they are chosen at once another time.
    dalca.click("#keep-group").await?;
    dalca.fill("#group-name", "Bench by the door").await?;
    dalca.press(ENTER).await?;
    let group = "//*[@aria-label='Groups']//button[normalize-space()='Bench by the door']";
    dalca
        .xpath(&format!("{group}[@aria-pressed='true']"))
        .await?;
    dalca
        .click_xpath("//label[normalize-space()='T. Oduya']")
        .await?;
    dalca
        .click_xpath(&format!("{group}[@aria-pressed='false']"))
        .await?;
    dalca.click("#give-in-pairs").await?;
    dalca
        .wait_text("[aria-label='Two at a bench']", "with")
        .await?;
    let found = dalca.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    dalca.click("#give-out").await?;
    dalca.settle().await;

    let open = async |name: &str| -> Result<Browser> {
        let b = Browser::open(&server.url).await?;
        b.sign_in(name, "red-and-black").await?;
        b.wait_text("main", "with ").await?;
        b.click_xpath("//tr[contains(., '· with ')]//a[1]").await?;
        b.css("[data-point='K3.86']").await?;
        Ok(b)
    };
    let (oduya, varga) = (open("oduya").await?, open("varga").await?);
    oduya.wait_text(".order", "with I. Varga").await?;
    oduya.press("t").await?;
    // The other sees it without having done anything.
    varga.wait_text("header.top", "Step 1").await?;
    oduya.click_point("K3.86").await?;
    oduya.fill("#expected", "11.9").await?;
    oduya.press(ENTER).await?;
    oduya
        .wait_text(".asked", "once I. Varga has written")
        .await?;
    let asked = varga
        .wait_text(".asked", "T. Oduya asks for DC volts")
        .await?;
    assert!(!asked.contains("11.9"), "{asked}");
    let found = varga.barriers().await?;
    assert!(found.is_empty(), "{found:#?}");
    // A phone has room for it too.
    varga.screen(390, 844, true).await?;
    varga.css("#asked-expected").await?;
    varga.screen(1280, 800, false).await?;
    // A key leads to where one answers.
    varga.press("a").await?;
    varga.press("plenty").await?;
    varga.press(ENTER).await?;
    varga.wait_text(".asked [role=alert]", "plenty").await?;
    // Without a network the bench stays, and what was typed.
    varga.cut(true).await?;
    varga.retype("#asked-expected", "12.4").await?;
    varga.press(ENTER).await?;
    varga
        .wait_text(".asked [role=alert]", "cannot be reached")
        .await?;
    varga.css("[data-point='K3.86']").await?;
    varga.cut(false).await?;
    assert_eq!(varga.value("#asked-expected").await?, "12.4");
    varga.press(ENTER).await?;
    let line = varga.wait_text(".ledger tbody", "partner 11.9").await?;
    assert!(
        line.contains("12.4") && line.contains("taken by your partner"),
        "{line}"
    );
    let line = oduya.wait_text(".ledger tbody", "partner 12.4").await?;
    assert!(line.contains("11.9"), "{line}");

    varga.press("1").await?;
    varga.wait_text(".ledger tbody", "normal").await?;
    oduya.wait_text("header.top", "Step 3").await?;
    let line = oduya.text(".ledger tbody").await?;
    assert!(
        !line.contains("normal"),
        "not before one has judged: {line}"
    );
    oduya.press("3").await?;
    oduya.wait_text(".ledger tbody", "partner: normal").await?;

    // What is not wanted now is asked no more.
    varga.click_point("BAT.+").await?;
    varga.fill("#expected", "12.6").await?;
    varga.press(ENTER).await?;
    oduya.wait_text(".asked", "I. Varga asks").await?;
    oduya
        .click_xpath("//*[@aria-label='Asked of two']//button[normalize-space()='Not now']")
        .await?;
    varga
        .xpath("//main[contains(@class, 'bench')][not(preceding-sibling::section)]")
        .await?;

    dalca.go("/classes").await?;
    dalca
        .click_xpath("(//a[normalize-space()='Live'])[1]")
        .await?;
    dalca
        .wait_text("[data-bench='T. Oduya']", "with I. Varga")
        .await?;
    dalca
        .click_xpath("//tr[@data-bench='T. Oduya']//button[normalize-space()='Allow']")
        .await?;
    dalca
        .click_xpath("//button[normalize-space()='Let each go on alone']")
        .await?;
    oduya.click_point("BAT.+").await?;
    oduya.fill("#expected", "12.6").await?;
    oduya.press(ENTER).await?;
    oduya.wait_text(".ledger tbody", "BAT.+").await?;
    for b in [oduya, varga, dalca] {
        b.close().await?;
    }
    Ok(())
}
