//! A clock that jumps: neither does a student's time, nor is anything lost.

use std::sync::atomic::Ordering;
use std::time::Duration;

use reqwest::{Client, Method};
use serde_json::{Value, json};
use tokio::time::sleep;

use super::School;
use super::kills::{stopped, writers};
use crate::person::PASSWORD;
use crate::school::name;
use crate::{Failure, Program};

/// Where Debian puts it.
const FAKETIME: &str = "/usr/lib/x86_64-linux-gnu/faketime/libfaketimeMT.so.1";
/// What a minute or less may be off, in seconds.
const OFF_S: i64 = 20;

/// A student of an attempt with a time limit.
struct Timed {
    client: Client,
    url: String,
    cookie: String,
    attempt: i64,
}

impl Timed {
    async fn sign_in(&mut self) -> Result<(), Failure> {
        let body = json!({"name": name(0), "password": PASSWORD});
        let asked = self
            .client
            .post(format!("{}/api/sign-in", self.url))
            .json(&body);
        let answer = asked.send().await?;
        let cookie = answer
            .headers()
            .get("Set-Cookie")
            .ok_or("nobody is let in")?;
        self.cookie = cookie
            .to_str()?
            .split(';')
            .next()
            .unwrap_or_default()
            .to_owned();
        Ok(())
    }

    async fn ask(&self, method: Method, path: &str, body: Option<Value>) -> Result<Value, Failure> {
        let mut asked = self.client.request(method, format!("{}{path}", self.url));
        if let Some(body) = body {
            asked = asked.json(&body);
        }
        let answer = asked.header("Cookie", &self.cookie).send().await?;
        Ok(serde_json::from_slice(&answer.bytes().await?)?)
    }

    async fn left_s(&self) -> Result<i64, Failure> {
        let view = self
            .ask(
                Method::GET,
                &format!("/api/attempts/{}", self.attempt),
                None,
            )
            .await?;
        view["left_s"]
            .as_i64()
            .ok_or_else(|| format!("no time is left: {view}").into())
    }
}

pub async fn jumps(program: &Program) -> Result<usize, Failure> {
    if !std::path::Path::new(FAKETIME).exists() {
        println!("a clock that jumps: not tried, for that takes faketime");
        return Ok(0);
    }
    let mut school = School::open(program, None).await?;
    let jump = school.folder.join("jump");
    std::fs::write(&jump, "+0")?;
    school.server.set = [
        ("LD_PRELOAD", FAKETIME.to_owned()),
        ("FAKETIME_TIMESTAMP_FILE", jump.display().to_string()),
        ("FAKETIME_CACHE_DURATION", "1".to_owned()),
        ("FAKETIME_DONT_FAKE_MONOTONIC", "1".to_owned()),
    ]
    .map(|(k, v)| (k.to_owned(), v))
    .to_vec();
    school.server.start().await?;
    let mut timed = Timed {
        client: Client::new(),
        url: school.server.url(),
        cookie: String::new(),
        attempt: 0,
    };
    timed.sign_in().await?;
    let own = timed.ask(Method::GET, "/api/attempts", None).await?;
    let own = own.as_array().into_iter().flatten();
    let mut own = own.filter(|a| a["title"] == "In time");
    timed.attempt = own
        .next()
        .and_then(|a| a["id"].as_i64())
        .ok_or("no attempt with a limit")?;
    let step = json!({"after": 0, "request": "one", "action": {"do": "set_control", "control": "key", "position": "run"}});
    timed
        .ask(
            Method::POST,
            &format!("/api/attempts/{}/steps", timed.attempt),
            Some(step),
        )
        .await?;
    let whole = timed.left_s().await?;
    let (seen, tasks) = writers(&school)?;
    let mut said = Vec::new();
    let mut lost = 0;
    // A day on, which ends sign-ins; a day back; a year on; and where it was.
    for to in ["+30m", "-1d", "+1h", "-1y", "+0"] {
        std::fs::write(&jump, to)?;
        seen.behind.store(to.starts_with('-'), Ordering::Relaxed);
        sleep(Duration::from_secs(3)).await;
        if to == "+1h" {
            school.server.kill().await?;
            school.server.start().await?;
        }
        let left = timed.left_s().await?;
        if !(whole - left).abs().le(&OFF_S) {
            println!("LOST: of {whole} s {left} s are left at {to}");
            lost += 1;
        }
        said.push(format!("{to} {left} s"));
    }
    lost += stopped(&seen, tasks).await?;
    school.server.end().await?;
    println!(
        "a clock that jumps, with {whole} s left at first: {}; {}, {lost} lost",
        said.join(", "),
        seen.said()
    );
    Ok(lost)
}
