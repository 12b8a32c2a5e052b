//! Lays the demo circuits out anew, as an instructor's page does, and writes them to
//! `demo/layouts.json`: `cargo run -p cimento-e2e --bin layouts`. To be run after a demo circuit or the
//! way of laying out has changed.

use std::collections::BTreeMap;

use cimento_e2e::{Browser, Result, Server, root};
use serde_json::Value;

#[tokio::main]
async fn main() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let file = root().join("demo/layouts.json");
    // What is known is not made again, so it is forgotten first.
    std::fs::write(&file, "{}\n")?;
    let server = Server::start(&folder.path().join("demo.db"), 0).await?;
    let browser = Browser::open(&server.url).await?;
    browser.sign_in("dalca", "bench-and-meter").await?;
    let mut layouts: BTreeMap<String, Value> = BTreeMap::new();
    let circuits = fetched(&browser, "/api/circuits").await?;
    let ids = circuits.as_array().into_iter().flatten().map(|c| &c["id"]);
    for id in ids {
        browser.go(&format!("/circuits/{id}/fault-bench")).await?;
        browser.css("[data-point]").await?;
        browser.settle().await;
        let asked = "return performance.getEntriesByType('resource').map((r) => new URL(r.name).pathname).filter((p) => p.startsWith('/api/layouts/'))";
        let asked = browser.client.execute(asked, vec![]).await?;
        let path = asked[0].as_str().ok_or("no layout was asked for")?;
        let shape = path.trim_start_matches("/api/layouts/").to_owned();
        layouts.insert(shape, fetched(&browser, path).await?);
    }
    browser.close().await?;
    let lines: Vec<String> = layouts
        .iter()
        .map(|(k, v)| format!("\"{k}\":{v}"))
        .collect();
    std::fs::write(&file, format!("{{\n{}\n}}\n", lines.join(",\n")))?;
    println!("{} layouts written to demo/layouts.json", layouts.len());
    Ok(())
}

async fn fetched(browser: &Browser, path: &str) -> Result<Value> {
    let script = "const done = arguments[1]; fetch(arguments[0]).then((r) => r.json()).then(done)";
    let path = Value::from(path);
    Ok(browser.client.execute_async(script, vec![path]).await?)
}
