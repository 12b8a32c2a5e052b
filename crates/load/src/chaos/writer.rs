//! A student who writes as fast as they are answered, keeps what was acknowledged in mind, and misses what is not there.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::Duration;

use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use tokio::time::sleep;

use crate::person::PASSWORD;

/// What all of them saw.
#[derive(Default)]
pub struct Seen {
    pub stop: AtomicBool,
    pub steps: AtomicUsize,
    pub sign_ins: AtomicUsize,
    pub hand_ins: AtomicUsize,
    /// Answers that say that it cannot be stored, or not now.
    pub put_off: AtomicUsize,
    pub lost: AtomicUsize,
    /// Sign-ins are not kept in copies.
    forgiven: AtomicBool,
    /// The clock is behind: who signs in now is signed out when it is right, for a sign-in ends by the clock.
    pub behind: AtomicBool,
}

impl Seen {
    fn count(counter: &AtomicUsize) {
        counter.fetch_add(1, Ordering::Relaxed);
    }

    pub fn of(counter: &AtomicUsize) -> usize {
        counter.load(Ordering::Relaxed)
    }

    fn miss(&self, what: &str) {
        println!("LOST: {what}");
        Self::count(&self.lost);
    }

    /// From now on nobody misses a sign-in.
    pub fn forgive_sign_ins(&self) {
        self.forgiven.store(true, Ordering::Relaxed);
    }

    pub fn said(&self) -> String {
        format!(
            "{} steps, {} hand-ins and {} sign-ins acknowledged, {} put off",
            Self::of(&self.steps),
            Self::of(&self.hand_ins),
            Self::of(&self.sign_ins),
            Self::of(&self.put_off)
        )
    }
}

pub struct Writer {
    name: String,
    url: String,
    client: Client,
    seen: Arc<Seen>,
    /// Its cookie, once it is signed in.
    cookie: Option<String>,
    /// It signed in while the clock was behind.
    behind: bool,
    attempt: i64,
    /// Steps that were acknowledged, and the key of the one that is being asked for.
    acknowledged: u64,
    key: Option<String>,
    handing_in: bool,
}

/// One who hands in after so many steps, sooner or later.
const HANDS_IN: u64 = 12;

impl Writer {
    pub fn new(name: String, url: String, seen: &Arc<Seen>) -> reqwest::Result<Self> {
        Ok(Self {
            name,
            url,
            client: Client::builder().timeout(Duration::from_secs(8)).build()?,
            seen: Arc::clone(seen),
            cookie: None,
            behind: false,
            attempt: 0,
            acknowledged: 0,
            key: None,
            handing_in: false,
        })
    }

    /// Asks once; nothing where nobody answers.
    async fn ask(
        &self,
        method: Method,
        path: &str,
        body: Option<Value>,
    ) -> Option<(StatusCode, Value, Option<String>)> {
        let mut request = self.client.request(method, format!("{}{path}", self.url));
        if let Some(cookie) = &self.cookie {
            request = request.header("Cookie", cookie);
        }
        if let Some(body) = body {
            request = request.json(&body);
        }
        let answer = request.send().await.ok()?;
        let status = answer.status();
        let cookie = answer.headers().get("Set-Cookie");
        let cookie = cookie.and_then(|c| Some(c.to_str().ok()?.split(';').next()?.to_owned()));
        let body = answer.bytes().await.ok()?;
        Some((
            status,
            serde_json::from_slice(&body).unwrap_or_default(),
            cookie,
        ))
    }

    /// Works until it is told to stop.
    pub async fn work(mut self) {
        while !self.seen.stop.load(Ordering::Relaxed) {
            if self.turn().await.is_none() {
                sleep(Duration::from_millis(3)).await;
            }
        }
        // What was acknowledged is still there, at the very end.
        for _ in 0..500 {
            if self.cookie.is_some() && self.look().await.is_some() {
                return;
            }
            self.sign_in().await;
            sleep(Duration::from_millis(20)).await;
        }
        self.seen
            .miss(&format!("{} cannot look at what was stored", self.name));
    }

    /// Does one thing; none where nobody answered, after which it looks whether all is there.
    async fn turn(&mut self) -> Option<()> {
        if self.cookie.is_none() {
            return self.sign_in().await;
        }
        if self.attempt == 0 {
            return self.look().await;
        }
        match self.step().await {
            Some(()) => Some(()),
            None => {
                // Somebody who signs in again now and then.
                if fastrand::u8(..4) == 0 {
                    self.cookie = None;
                    return None;
                }
                self.look().await
            }
        }
    }

    async fn sign_in(&mut self) -> Option<()> {
        self.behind = self.seen.behind.load(Ordering::Relaxed);
        let body = json!({"name": self.name, "password": PASSWORD});
        let (status, _, cookie) = self.ask(Method::POST, "/api/sign-in", Some(body)).await?;
        match status {
            StatusCode::OK => {
                self.cookie = cookie;
                Seen::count(&self.seen.sign_ins);
                Some(())
            }
            _ => {
                Seen::count(&self.seen.put_off);
                None
            }
        }
    }

    /// Looks at what is on record: at least what was acknowledged.
    async fn look(&mut self) -> Option<()> {
        if self.attempt == 0 {
            let (status, own, _) = self.ask(Method::GET, "/api/attempts", None).await?;
            if status != StatusCode::OK {
                return self.refused(status, &own);
            }
            let own: Vec<&Value> = own.as_array().into_iter().flatten().collect();
            let own = own.into_iter().filter(|a| a["title"] == "One");
            let last = own.max_by_key(|a| a["id"].as_i64())?;
            self.attempt = last["id"].as_i64()?;
            self.acknowledged = 0;
            if last["handed_in"] == true {
                return self.again().await;
            }
        }
        let path = format!("/api/attempts/{}", self.attempt);
        let (status, view, _) = self.ask(Method::GET, &path, None).await?;
        if status != StatusCode::OK {
            return self.refused(status, &view);
        }
        let there = view["bench"]["steps"].as_u64().unwrap_or(0);
        if there < self.acknowledged {
            self.seen.miss(&format!(
                "{} of attempt {}: {there} steps are there of {}",
                self.name, self.attempt, self.acknowledged
            ));
        }
        // What was on its way may have been done; asking for it again by its key does it once.
        if self.key.is_none() {
            self.acknowledged = self.acknowledged.max(there);
        }
        Some(())
    }

    /// Neither lost nor broken: signed out, or put off.
    fn refused(&mut self, status: StatusCode, said: &Value) -> Option<()> {
        match status {
            // Its token was acknowledged, and sign-ins are kept like everything else.
            StatusCode::UNAUTHORIZED => {
                if !self.behind && !self.seen.forgiven.load(Ordering::Relaxed) {
                    self.seen.miss(&format!("the sign-in of {}", self.name));
                }
                self.cookie = None;
            }
            StatusCode::SERVICE_UNAVAILABLE
            | StatusCode::INSUFFICIENT_STORAGE
            | StatusCode::TOO_MANY_REQUESTS => Seen::count(&self.seen.put_off),
            _ => self.seen.miss(&format!("{}: {status} {said}", self.name)),
        }
        None
    }

    async fn step(&mut self) -> Option<()> {
        if self.key.is_none() {
            self.handing_in = self.acknowledged >= HANDS_IN && fastrand::u8(..4) == 0;
        }
        let key = self
            .key
            .get_or_insert_with(|| format!("{:016x}", fastrand::u64(..)))
            .clone();
        let position = ["off", "run"][(self.acknowledged % 2) as usize];
        let action = match self.handing_in {
            true => json!({"do": "hand_in"}),
            false => json!({"do": "set_control", "control": "key", "position": position}),
        };
        let path = format!("/api/attempts/{}/steps", self.attempt);
        let body = json!({"after": self.acknowledged, "request": key, "action": action});
        let (status, said, _) = self.ask(Method::POST, &path, Some(body)).await?;
        if status != StatusCode::OK {
            return self.refused(status, &said);
        }
        let there = said["steps"].as_u64().unwrap_or(0);
        if there != self.acknowledged + 1 {
            self.seen.miss(&format!(
                "{} of attempt {}: a step was done {there} steps far, {} were there before",
                self.name, self.attempt, self.acknowledged
            ));
        }
        self.acknowledged = there;
        self.key = None;
        Seen::count(&self.seen.steps);
        if self.handing_in {
            Seen::count(&self.seen.hand_ins);
            self.again().await?;
        }
        Some(())
    }

    /// Begins another attempt of what was handed in.
    async fn again(&mut self) -> Option<()> {
        let path = format!("/api/attempts/{}/again", self.attempt);
        let begun = self.ask(Method::POST, &path, Some(json!({}))).await;
        self.handing_in = false;
        // Where nobody answered it may have been begun: it is looked for.
        self.attempt = match begun {
            Some((StatusCode::OK, said, _)) => said["id"].as_i64().unwrap_or(0),
            _ => 0,
        };
        self.acknowledged = 0;
        Some(())
    }
}
