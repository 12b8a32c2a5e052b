//! One against all: who asks too often waits, who guesses waits longer, and nobody else is held up by either.

use std::time::{Duration, Instant};

use crate::common::{Answer, School};
use axum::http::StatusCode;
use cimento_server::Rate;
use cimento_store::{NewPerson, Role};
use futures_util::future::join_all;
use serde_json::json;

const SLOW: Rate = Rate {
    burst: 10.0,
    per_s: 0.001,
};

async fn sign_in(school: &School, name: &str, password: &str) -> Answer {
    let body = json!({"name": name, "password": password});
    school.ask("POST", "/api/sign-in", None, Some(body)).await
}

fn class(school: &School, count: usize) -> Vec<String> {
    let name = |n| format!("student{n}");
    let person = |n| NewPerson {
        name: name(n),
        display: name(n),
        roles: Role::Student.into(),
        password: "red-and-black".to_owned(),
    };
    let people: Vec<NewPerson> = (0..count).map(person).collect();
    school.store().add_people(&people).unwrap();
    (0..count).map(name).collect()
}

/// Of one who asks as fast as they can, a burst is answered; somebody else is not held up, and neither are the
/// same person's answers with another sign-in: it is the person that is counted.
#[tokio::test]
async fn one_who_asks_too_often_waits_and_nobody_else() {
    let school = School::with_rate(SLOW);
    let [first, again] = [
        school.sign_in("varga", "red-and-black").await,
        school.sign_in("varga", "red-and-black").await,
    ];
    let other = school.sign_in("oduya", "red-and-black").await;
    let me = |cookie: String| {
        let school = &school;
        async move { school.ask("GET", "/api/me", Some(&cookie), None).await }
    };
    for n in 0..10 {
        let cookie = if n % 2 == 0 { &first } else { &again };
        assert_eq!(me(cookie.clone()).await.status, StatusCode::OK);
    }
    for cookie in [&first, &again] {
        let refused = me(cookie.clone()).await;
        assert_eq!(refused.status, StatusCode::TOO_MANY_REQUESTS);
        assert_eq!(refused.kind, "application/problem+json");
        assert_eq!(refused.json()["retry_s"], 1000, "{}", refused.text);
    }
    assert_eq!(me(other).await.status, StatusCode::OK);
}

/// A name takes five wrong passwords, whether anybody has it or not; an instructor's new password opens it again.
#[tokio::test]
async fn guessing_waits_whether_there_is_such_a_name_or_not() {
    let school = School::new();
    for name in ["varga", "nobody"] {
        for _ in 0..5 {
            let wrong = sign_in(&school, name, "red-or-black").await;
            assert_eq!(wrong.status, StatusCode::UNAUTHORIZED);
        }
        let refused = sign_in(&school, name, "red-and-black").await;
        assert_eq!(refused.status, StatusCode::TOO_MANY_REQUESTS);
        let said = refused.json()["detail"].to_string();
        assert!(said.contains("wait 1 second"), "{said}");
    }
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let path = "/api/people/2/password";
    let told = school.ask("POST", path, Some(&instructor), None).await;
    let password = told.json()["password"].as_str().unwrap().to_owned();
    let again = sign_in(&school, "varga", &password).await;
    assert_eq!(again.status, StatusCode::OK, "{}", again.text);
}

/// Changing one's password is no way to guess it.
#[tokio::test]
async fn the_present_password_is_not_guessed_either() {
    let school = School::new();
    let student = school.sign_in("varga", "red-and-black").await;
    let change = || {
        let body = json!({"old": "red-or-black", "new": "blue-and-white"});
        school.ask("PUT", "/api/me/password", Some(&student), Some(body))
    };
    for _ in 0..5 {
        assert_eq!(change().await.status, StatusCode::BAD_REQUEST);
    }
    assert_eq!(change().await.status, StatusCode::TOO_MANY_REQUESTS);
}

/// Behind the school's one address somebody guesses at every name: what fails is answered late, alike for names that
/// there are and that there are not, and the class is let in at once.
#[tokio::test(flavor = "multi_thread")]
async fn a_class_is_let_in_while_somebody_guesses_behind_the_same_address() {
    let school = School::new();
    let class = class(&school, 12);
    let guesses = (0..40).map(|n| format!("guess{n}"));
    let guesses: Vec<String> = guesses.collect();
    join_all(guesses.iter().map(|n| sign_in(&school, n, "red-or-black"))).await;
    let timed = async |name: &str, password: &str| {
        let began = Instant::now();
        let answer = sign_in(&school, name, password).await;
        (answer, began.elapsed())
    };
    let known = timed("oduya", "red-or-black");
    let (known, unknown) = tokio::join!(known, timed("guess99", "red-or-black"));
    for (answer, took) in [&known, &unknown] {
        assert_eq!(answer.status, StatusCode::UNAUTHORIZED);
        assert!(*took >= Duration::from_secs(1), "{took:?}");
    }
    assert_eq!(known.0.text, unknown.0.text);
    let all = class.iter().map(|n| timed(n, "red-and-black"));
    for (answer, _) in join_all(all).await {
        assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    }
}
