//! The command line on files: what it prints and how it ends.

use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use cimento_store::SignInFrom;

const AT_FIRST: SignInFrom<'_> = SignInFrom {
    now: 0,
    lasts_s: 100,
    browser: "",
};

fn tug() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/circuits/baggage-tug-starting.json")
}

fn cimento(args: &[&str]) -> (i32, String, String) {
    let Output {
        status,
        stdout,
        stderr,
    } = Command::new(env!("CARGO_BIN_EXE_cimento"))
        .args(args)
        .output()
        .unwrap();
    let text = |bytes: Vec<u8>| String::from_utf8(bytes).unwrap();
    (status.code().unwrap(), text(stdout), text(stderr))
}

#[test]
fn check_says_what_is_wrong_and_where() {
    let file = tug();
    let (code, out, _) = cimento(&["check", file.to_str().unwrap()]);
    assert_eq!(code, 0);
    assert!(out.contains("9 parts, 19 wires"), "{out}");
    let folder = tempfile::tempdir().unwrap();
    let broken = folder.path().join("broken.json");
    let text = std::fs::read_to_string(&file).unwrap();
    std::fs::write(&broken, text.replace("\"S1.50\"", "\"S1.5O\"")).unwrap();
    let (code, _, err) = cimento(&["check", broken.to_str().unwrap()]);
    assert_eq!(code, 2);
    assert!(
        err.contains("wires[6].from: S1 has no terminal 5O"),
        "{err}"
    );
    std::fs::write(&broken, text.replace("\"color\": \"GN\", ", "")).unwrap();
    let (code, _, err) = cimento(&["check", broken.to_str().unwrap()]);
    assert_eq!((code, err.trim()), (1, "wires[5].color: W6 has no colour"));
    assert_eq!(cimento(&["check", "no-such-file"]).0, 2);
}

/// A lesson is proven: what it is worth, and each thing that stands in the way of giving it, once.
#[test]
fn check_and_course_prove_a_lesson() {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    let course = demo.join("course/course.json");
    let (code, out, err) = cimento(&["course", course.to_str().unwrap(), "--only", "05-"]);
    assert_eq!((code, err.as_str()), (0, ""), "{out}");
    assert!(out.contains("14 places, 5 readings"), "{out}");
    let read = |file: PathBuf| -> serde_json::Value {
        serde_json::from_str(&std::fs::read_to_string(file).unwrap()).unwrap()
    };
    let mut lesson = read(demo.join("course/05-will-not-crank.json"));
    lesson["circuit"] = read(tug());
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("lesson.json");
    let check = |lesson: &serde_json::Value| {
        std::fs::write(&file, lesson.to_string()).unwrap();
        cimento(&["check", file.to_str().unwrap()])
    };
    let (code, out, err) = check(&lesson);
    assert_eq!((code, err.as_str()), (0, ""), "{out}");
    assert!(out.contains("told apart down to W8"), "{out}");
    // The customer says what the machine does not, and the page before the bench says where it is.
    let mut wrong = lesson.clone();
    wrong["complaint"] = "It cranks slowly.".into();
    wrong["intro"]["know"] = "Look at W8 first.".into();
    wrong["skills"] = serde_json::json!(["scan_data"]);
    let (code, out, err) = check(&wrong);
    assert_eq!(code, 2);
    let told = out + &err;
    for said in ["“slow”", "it names W8", "nothing to use it on"] {
        assert_eq!(told.matches(said).count(), 1, "{said}: {told}");
    }
    // What is wrong with its circuit is told with the way there.
    lesson["circuit"]["wires"][6]["from"] = "S1.5O".into();
    let (code, _, err) = check(&lesson);
    assert_eq!(code, 2);
    assert!(err.contains("circuit.wires[6].from"), "{err}");
}

#[test]
fn symptom_says_what_is_noticed() {
    let file = tug();
    let symptom = |more: &[&str]| cimento(&[&["symptom", file.to_str().unwrap()], more].concat());
    let (code, out, _) = symptom(&["--fault", "M1:contacts_welded"]);
    assert_eq!(code, 0);
    assert!(
        out.starts_with("With everything off: cranks at 20"),
        "{out}"
    );
    let (code, out, _) = symptom(&["--every"]);
    assert_eq!(code, 0);
    let of = |fault: &str| {
        let mut lines = out.lines();
        let line = lines.find(|l| l.starts_with(fault));
        line.unwrap_or_else(|| panic!("no {fault} in {out}"))
    };
    assert!(of("sound").contains("Cranks at 207 rpm"));
    assert!(of("W8 open").contains("No crank, no click"));
    assert!(of("W21 short to ground").contains("as a sound one"));
    let (code, out, _) = symptom(&["--json"]);
    let trials: serde_json::Value = serde_json::from_str(&out).unwrap();
    assert_eq!(
        (code, &trials["trials"][0]["label"]),
        (0, &"standing".into())
    );
    let (code, _, err) = symptom(&["--fault", "W8:melted"]);
    assert_eq!(code, 2);
    assert!(err.contains("W8"), "{err}");
}

/// Which goes first, the fuse or the wire behind it: common practice, a fuse protects the thinnest wire behind it.
#[test]
fn check_says_which_wires_a_fuse_does_not_protect() {
    let folder = tempfile::tempdir().unwrap();
    let large = folder.path().join("large.json");
    let text = std::fs::read_to_string(tug()).unwrap();
    let mut doc: serde_json::Value = serde_json::from_str(&text).unwrap();
    for fuse in ["F1", "F2"] {
        doc["parts"][fuse]["params"]["rating_a"] = 150.into();
    }
    std::fs::write(&large, doc.to_string()).unwrap();
    let (code, _, err) = cimento(&["check", large.to_str().unwrap()]);
    assert_eq!(code, 1);
    assert!(err.contains("wires[5]: W6 is not protected"), "{err}");
}

#[test]
fn a_turning_machine_is_written_in_time() {
    let file = tug();
    let file = file.with_file_name("baggage-tug-ignition.json");
    let file = file.to_str().unwrap();
    let spice = |more: &[&str]| cimento(&[&["spice", file], more].concat());
    let running = ["--state", "key=run,engine=idle", "--turns"];
    let (code, out, _) = spice(&[&running[..], &["0.6"]].concat());
    assert_eq!(code, 0);
    for part in [".tran ", "* P1 gap", "PWL(", "\nK0 L", ".end\n"] {
        assert!(out.contains(part), "no {part} in {out}");
    }
    let (code, _, err) = spice(&[&running[..], &["0"]].concat());
    assert_eq!(code, 2);
    assert!(err.contains("expected more than 0 and at most 20"), "{err}");
    let (code, _, err) = spice(&["--turns", "1"]);
    assert_eq!(code, 1);
    assert!(err.contains("nothing turns in this state"), "{err}");
}

#[test]
fn read_key_and_spice_agree_on_a_fault() {
    let file = tug();
    let file = file.to_str().unwrap();
    let state = ["--state", "key=start,clutch=down", "--fault", "W8:open"];
    let (code, out, _) = cimento(
        &[
            &["read", file, "--red", "K3.86", "--range", "60"],
            &state[..],
        ]
        .concat(),
    );
    assert_eq!(code, 0);
    assert!(out.starts_with("0.00 V"), "{out}");
    let (code, out, _) = cimento(&[&["key", file, "--csv", "--telling"], &state[..]].concat());
    assert_eq!(code, 0);
    assert!(
        out.lines()
            .any(|l| l.contains(",K3.86,BAT.-,11.44,0.000,V,") && l.contains("lost across W8")),
        "{out}"
    );
    let (code, out, _) = cimento(&[&["spice", file], &state[..]].concat());
    assert_eq!(code, 0);
    assert!(
        out.contains("* fault: W8 open")
            && out.contains("print v(k3_86)")
            && out.ends_with(".end\n"),
        "{out}"
    );
    let (code, _, err) = cimento(&["read", file, "--red", "K3.99"]);
    assert_eq!(code, 2);
    assert!(err.contains("no test point K3.99"), "{err}");
    let (code, _, err) = cimento(&["read", file, "--red", "K3.86", "--fault", "W8:melted"]);
    assert_eq!(code, 2);
    assert!(err.contains("expected open, high_resistance"), "{err}");
    let (code, _, err) = cimento(&["read", file, "--red", "K3.86", "--state", "key=sideways"]);
    assert_eq!(code, 2);
    assert!(err.contains("expected off, acc, run, start"), "{err}");
}

#[test]
fn plan_and_suspects_reason_about_a_fault() {
    let file = concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../demo/circuits/baggage-tug-starting.json"
    );
    let fault = ["--fault", "W8:open"];
    let (code, out, _) = cimento(&[&["plan", file, "--json"], &fault[..]].concat());
    assert_eq!(code, 0);
    let plan: serde_json::Value = serde_json::from_str(&out).unwrap();
    assert_eq!(plan["group"], serde_json::json!(["W8"]));
    assert_eq!(
        plan["steps"].as_array().unwrap().last().unwrap()["left"],
        plan["group"]
    );
    // The tree does not know the fault, but leads to it.
    let (code, out, _) = cimento(&[&["plan", file, "--tree"], &fault[..]].concat());
    assert_eq!(code, 0);
    assert!(out.lines().any(|l| l.trim() == "=> W8"), "{out}");
    assert!(out.lines().any(|l| l.trim() == "=> W12"), "{out}");
    let state = ["--state", "key=start,clutch=down"];
    let asked = [
        &["suspects", file, "--read", "K3.86"],
        &fault[..],
        &state[..],
    ]
    .concat();
    let (code, out, _) = cimento(&asked);
    assert_eq!(code, 0);
    assert!(out.contains("ruled out: G4, W12, K3"), "{out}");
    let (code, _, err) = cimento(&["plan", file]);
    assert_eq!(code, 2);
    assert!(err.contains("--fault"), "{err}");
    let (code, _, err) = cimento(&["plan", file, "--fault", "W16:strands_cut=0.1"]);
    assert_eq!(code, 2);
    assert!(err.contains("as if it were healthy"), "{err}");
}

#[test]
fn serving_without_a_page_a_free_port_or_a_sound_database_ends_in_a_sentence() {
    let folder = tempfile::tempdir().unwrap();
    let at = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    let (code, _, err) = cimento(&["serve", "--database", &at("a.db"), "--web", &at("nowhere")]);
    assert_eq!(code, 2);
    assert!(err.contains("run `make build` first"), "{err}");
    std::fs::write(folder.path().join("index.html"), "page").unwrap();
    let taken = std::net::TcpListener::bind("127.0.0.1:0").unwrap();
    let port = taken.local_addr().unwrap().port().to_string();
    let web = folder.path().to_str().unwrap();
    let (code, _, err) = cimento(&[
        "serve",
        "--database",
        &at("a.db"),
        "--web",
        web,
        "--port",
        &port,
    ]);
    assert_eq!(code, 2);
    assert!(err.contains("is in use by another program"), "{err}");
    std::fs::write(folder.path().join("b.db"), "x".repeat(5000)).unwrap();
    let (code, _, err) = cimento(&["serve", "--database", &at("b.db"), "--web", web]);
    assert_eq!(code, 2);
    assert!(
        err.contains("file is not a database") && err.contains("cimento restore"),
        "{err}"
    );
}

#[test]
fn schemas_are_published() {
    for document in ["circuit", "lesson", "fault", "state"] {
        let (code, out, _) = cimento(&["schema", document]);
        assert_eq!(code, 0);
        assert!(out.contains("json-schema.org"), "{document}: {out}");
    }
}

#[test]
fn a_command_ends_quietly_when_nobody_reads_on() {
    let mut child = Command::new(env!("CARGO_BIN_EXE_cimento"))
        .args(["key", tug().to_str().unwrap()])
        .stdout(std::process::Stdio::piped())
        .stderr(std::process::Stdio::piped())
        .spawn()
        .unwrap();
    // The reader goes before the first line is written.
    drop(child.stdout.take());
    let done = child.wait_with_output().unwrap();
    assert_eq!(String::from_utf8(done.stderr).unwrap(), "");
}

/// The latest copies stay, and what else lies in the folder.
#[test]
fn so_many_copies_are_kept_and_no_more() {
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name).display().to_string();
    let (from, copies) = (path("school.db"), path("copies"));
    cimento_store::Store::open(Path::new(&from)).unwrap();
    let keep = |n: &str| cimento(&["backup", "--database", &from, "--keep", n, &copies]);
    let list = || {
        let entries = std::fs::read_dir(&copies).unwrap();
        let names = entries.map(|e| e.unwrap().file_name().into_string().unwrap());
        let mut names: Vec<String> = names.collect();
        names.sort();
        names
    };
    assert_eq!(keep("2").0, 0);
    let first = list();
    std::fs::write(Path::new(&copies).join("a-note.db"), "mine").unwrap();
    for _ in 0..2 {
        let (code, _, err) = keep("2");
        assert_eq!(code, 0, "{err}");
        std::thread::sleep(std::time::Duration::from_millis(2));
    }
    let kept = list();
    assert_eq!(kept.len(), 3, "{kept:?}");
    assert!(kept.contains(&"a-note.db".to_owned()) && !kept.contains(&first[0]));
    assert_ne!(keep("0").0, 0, "none is no number of copies");
}

/// The page of the manual names every command.
#[test]
fn the_manual_has_every_command() {
    let (code, page, _) = cimento(&["man"]);
    assert_eq!(code, 0);
    for name in ["SERVE", "BACKUP", "PERSON", "ROSTER", "PLAN"] {
        assert!(page.contains(&format!(".SH \"CIMENTO {name}\"")), "{name}");
    }
    assert!(page.contains("\\-\\-keep"), "options are in it");
}

/// A copy takes the place of the database, which is kept; while a server holds it neither that nor a demo begun anew
/// touches it.
#[test]
fn restore_puts_a_copy_in_place_unless_a_server_works_on_it() {
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name).display().to_string();
    let (database, copy) = (path("school.db"), path("copy.db"));
    let people = || {
        let (code, out, err) = cimento(&["person", "list", "--database", &database]);
        assert_eq!(code, 0, "{err}");
        out
    };
    let add = |name: &str| {
        let store = cimento_store::Store::open(Path::new(&database)).unwrap();
        let role = cimento_store::Role::Instructor;
        store.add_user(name, name, role, "red-and-black").unwrap();
    };
    add("dalca");
    assert_eq!(cimento(&["backup", "--database", &database, &copy]).0, 0);
    add("keller");
    let held = cimento_store::hold(Path::new(&database), cimento_store::Hold::Shared).unwrap();
    for args in [
        vec!["restore", "--database", &database, &copy],
        vec!["demo", "--reset", "--database", &database, "--port", "0"],
    ] {
        let (code, _, err) = cimento(&args);
        assert_eq!(code, 2, "{args:?}: {err}");
        assert!(err.contains("another program works on"), "{args:?}: {err}");
        assert!(people().contains("keller"));
    }
    drop(held);
    let (code, out, err) = cimento(&["restore", "--database", &database, &copy]);
    assert_eq!(code, 0, "{err}");
    assert!(out.contains("what was there is kept as"), "{out}");
    assert!(people().contains("dalca") && !people().contains("keller"));
    let (code, _, err) = cimento(&["restore", "--database", &database, &path("nothing.db")]);
    assert_eq!(code, 2);
    assert!(err.contains("there is no such file"), "{err}");
}

#[test]
fn backup_copies_a_database_and_overwrites_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let file = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    let (from, to) = (file("school.db"), file("copy.db"));
    let (code, _, err) = cimento(&["backup", "--database", &from, &to]);
    assert_eq!(code, 2);
    assert!(err.contains("there is no database"), "{err}");
    let store = cimento_store::Store::open(Path::new(&from)).unwrap();
    let role = cimento_store::Role::Student;
    store
        .add_user("varga", "I. Varga", role, "red-and-black")
        .unwrap();
    // The database is in use while it is copied.
    let (code, out, err) = cimento(&["backup", "--database", &from, &to]);
    assert_eq!(code, 0, "{err}");
    assert!(out.contains("copied to"), "{out}");
    let copy = cimento_store::Store::open(Path::new(&to)).unwrap();
    assert_eq!(copy.students().unwrap()[0].name, "varga");
    let (code, _, err) = cimento(&["backup", "--database", &from, &to]);
    assert_eq!(code, 2);
    assert!(err.contains("it is there already"), "{err}");
}

#[test]
fn kinds_says_all_there_is_to_write_a_part_down() {
    let (code, out, _) = cimento(&["kinds"]);
    assert_eq!(code, 0);
    assert!(out.lines().any(|l| l.starts_with("relay ")), "{out}");
    let (code, out, _) = cimento(&["kinds", "relay"]);
    assert_eq!(code, 0);
    for part in [
        "ids begin with K",
        "  86 ",
        "coil resistance: 85 Ω unless said, 5 to 5000",
        "contact pitted, in Ω: 0.5 unless said",
    ] {
        assert!(out.contains(part), "no {part} in {out}");
    }
    let (code, _, err) = cimento(&["kinds", "relais"]);
    assert_eq!(code, 2);
    assert!(
        err.contains("there is no kind relais") && err.contains("changeover_relay"),
        "{err}"
    );
}

#[test]
fn a_state_a_fault_and_what_was_done_before_come_as_documents() {
    let folder = tempfile::tempdir().unwrap();
    let file = tug();
    let file = file.to_str().unwrap();
    let write = |name: &str, text: &str| {
        let path = folder.path().join(name);
        std::fs::write(&path, text).unwrap();
        path.to_str().unwrap().to_owned()
    };
    let start = r#"{"key":"start","inputs":{"clutch":"down"}}"#;
    let of_file = write("state.json", start);
    let read = |more: &[&str]| cimento(&[&["read", file, "--red", "K3.86"], more].concat());
    let plain = read(&["--state", "key=start,clutch=down", "--fault", "W8:open"]).1;
    for state in [start, &of_file] {
        for fault in ["W8:open", r#"{"place":"W8","mode":"open"}"#] {
            assert_eq!(read(&["--state", state, "--fault", fault]).1, plain);
        }
    }
    let (code, _, err) = read(&["--state", r#"{"key":"start","inputs":{"clutch":"dow"}}"#]);
    assert_eq!(code, 2);
    assert!(err.contains("“dow” is no position of clutch"), "{err}");
    // All that a fault has, in the short form.
    let hot = read(&["--state", start, "--fault", "W8:open,when=hot"]).1;
    assert_ne!(hot, plain, "cold, it is not there");
    let (code, _, err) = read(&["--fault", "W8:open,where=here"]);
    assert_eq!(code, 2);
    assert!(
        err.contains("expected other=, at=, metal= or when="),
        "{err}"
    );
    // A connector that was taken apart before.
    let steps = write("steps.json", r#"[{"do":"take_apart","what":"C12"}]"#);
    let moved = ["--state", "key=start,clutch=down"];
    let (code, out, err) =
        read(&[&moved[..], &["--fault", "W13:open", "--steps", &steps]].concat());
    assert_eq!(code, 0, "{err}");
    assert!(out.starts_with("0.0"), "{out}");
    let (code, _, err) = read(&[
        "--fault",
        "W8:open",
        "--steps",
        &write("bad.json", r#"[{"do":"dance"}]"#),
    ]);
    assert_eq!(code, 2);
    assert!(err.contains("bad.json: [0]"), "{err}");
}

/// Suspects go by what was done before, and by readings of a machine whose fault nobody knows.
#[test]
fn suspects_are_named_by_steps_and_by_a_file_of_readings() {
    let folder = tempfile::tempdir().unwrap();
    let write = |name: &str, text: &str| {
        let file = folder.path().join(name);
        std::fs::write(&file, text).unwrap();
        file.to_str().unwrap().to_owned()
    };
    let tug = tug();
    let tug = tug.to_str().unwrap();
    let steps = write("steps.json", r#"[{"do":"take_apart","what":"C12"}]"#);
    let of = [
        "suspects", tug, "--fault", "W8:open", "--read", "S2.2", "--steps", &steps,
    ];
    let (code, out, err) = cimento(&of);
    assert_eq!(code, 0, "{err}");
    assert!(out.contains("C12 apart"), "{out}");
    let apart = r#"{"key":"off","inputs":{"clutch":"up"},"unplugged":["C12"]}"#;
    let of = [
        "suspects", tug, "--fault", "W8:open", "--read", "S2.2", "--state", apart,
    ];
    assert!(cimento(&of).1.contains("C12 apart"));

    let sheet = "state,function,red,black,reading\n\
        \"key=start,clutch=down\",,S2.2,,0.0\n\
        \"key=start,clutch=down\",dc_volts,C12.4f,BAT.-,12.4\n";
    let (code, out, err) = cimento(&["suspects", tug, "--readings", &write("a.csv", sheet)]);
    assert_eq!(code, 0, "{err}");
    assert!(out.contains("W8: open"), "{out}");
    for (wrong, says) in [
        ("state,red,reading\n,S9.9,0\n", "S9.9"),
        (
            "state,red,reading\nkey=strat,S2.2,0\n",
            "line 2: key: “strat” is no position of key",
        ),
        ("state,red,reading\n,S2.2,twelve\n", "line 2: “twelve”"),
        ("red,reading,colour\nS2.2,1,RD\n", "colour"),
    ] {
        let (code, _, err) = cimento(&["suspects", tug, "--readings", &write("b.csv", wrong)]);
        assert_eq!(code, 2);
        assert!(err.contains(says), "{says}: {err}");
    }
}

/// A circuit whose battery has another name is read against that battery's negative.
#[test]
fn black_is_the_battery_s_negative_whatever_it_is_called() {
    let folder = tempfile::tempdir().unwrap();
    let other = folder.path().join("other.json");
    let text = std::fs::read_to_string(tug()).unwrap();
    std::fs::write(&other, text.replace("BAT", "GB1")).unwrap();
    let (code, out, err) = cimento(&["read", other.to_str().unwrap(), "--red", "GB1.+"]);
    assert_eq!(code, 0, "{err}");
    assert!(out.starts_with("12.6"), "{out}");
}

#[test]
fn a_screen_is_written_as_a_list_and_drawn() {
    let file = tug().with_file_name("baggage-tug-charging.json");
    let scope = |more: &[&str]| {
        let usual = [
            "scope",
            file.to_str().unwrap(),
            "--state",
            "key=run,engine=fast,work lamps=on",
        ];
        cimento(&[&usual[..], more].concat())
    };
    let (code, csv, err) = scope(&["--fault", "A1:diode_open", "--channel", "BAT.+"]);
    assert_eq!(code, 0, "{err}");
    assert!(
        csv.starts_with("seconds,BAT.+ to BAT.- least V,BAT.+ to BAT.- most V\n"),
        "{csv}"
    );
    assert_eq!(csv.lines().count(), 601);
    let (code, svg, _) = scope(&[
        "--channel",
        "BAT.+:metal:engine",
        "--channel",
        "clamp:W1",
        "--format",
        "svg",
    ]);
    assert_eq!(code, 0);
    assert_eq!(svg.matches("<path").count(), 2);
    let (code, _, err) = scope(&["--channel", "nowhere"]);
    assert_eq!(code, 2);
    assert!(err.contains("nowhere"), "{err}");
}

/// The program with some lines on its standard input.
fn cimento_told(args: &[&str], input: &str) -> (i32, String, String) {
    use std::io::Write;
    use std::process::Stdio;
    let mut child = Command::new(env!("CARGO_BIN_EXE_cimento"))
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child
        .stdin
        .take()
        .unwrap()
        .write_all(input.as_bytes())
        .unwrap();
    let output = child.wait_with_output().unwrap();
    let text = |bytes: Vec<u8>| String::from_utf8(bytes).unwrap();
    (
        output.status.code().unwrap(),
        text(output.stdout),
        text(output.stderr),
    )
}

#[test]
fn a_school_is_opened_and_its_people_come_and_go() {
    let folder = tempfile::tempdir().unwrap();
    let database = folder.path().join("school.db");
    let database = database.to_str().unwrap();
    let at = ["--database", database];
    let (code, _, err) = cimento(&[&["person", "list"], &at[..]].concat());
    assert_eq!(code, 2);
    assert!(err.contains("make one with `cimento init`"), "{err}");
    let init = ["init", "--name", "Dalca", "--display", "R. Dalca"];
    let (code, out, err) = cimento(&[&init[..], &at].concat());
    assert_eq!(code, 0, "{err}");
    let password = out
        .split("the password ")
        .nth(1)
        .unwrap()
        .split(' ')
        .next()
        .unwrap();
    assert_eq!(password.len(), 14, "{out}");
    let (code, _, err) = cimento(&[&init[..], &at].concat());
    assert_eq!(code, 1);
    assert!(err.contains("has people in it already"), "{err}");
    let person =
        |args: &[&str], input: &str| cimento_told(&[&["person"], args, &at[..]].concat(), input);
    let (code, out, err) = person(&["add", "varga", "I. Varga", "--stdin"], "red-and-black\n");
    assert_eq!(
        (code, out.as_str()),
        (0, "added varga (student)\n"),
        "{err}"
    );
    assert!(
        person(&["add", "VARGA", "Other"], "")
            .2
            .contains("the name varga is taken")
    );
    assert!(
        person(&["add", "oduya", "Oduya", "--stdin"], "short\n")
            .2
            .contains("at least 8 characters")
    );
    let store = cimento_store::Store::open(Path::new(database)).unwrap();
    let signs_in =
        |name: &str, password: &str| store.sign_in(name, password, &AT_FIRST).unwrap().is_some();
    // Capitals do not matter to a name; to a password they do.
    assert!(signs_in("Dalca", password) && signs_in("dalca", password));
    assert!(signs_in("varga", "red-and-black") && !signs_in("varga", "Red-and-black"));
    let (token, _) = store
        .sign_in("varga", "red-and-black", &AT_FIRST)
        .unwrap()
        .unwrap();
    assert_eq!(person(&["retire", "varga"], "").0, 0);
    assert!(!signs_in("varga", "red-and-black"));
    assert!(store.signed_in(&token, 0).unwrap().is_none());
    assert!(store.students().unwrap().is_empty());
    assert!(person(&["list"], "").1.contains("I. Varga  left"));
    assert_eq!(person(&["restore", "varga"], "").0, 0);
    assert!(signs_in("varga", "red-and-black"));
    assert_eq!(
        person(&["password", "varga", "--stdin"], "black-and-red\n").0,
        0
    );
    assert!(signs_in("varga", "black-and-red") && !signs_in("varga", "red-and-black"));
    assert!(
        person(&["retire", "nobody"], "")
            .2
            .contains("there is no person called nobody")
    );
}

/// Who finds a copy signs in with nothing of it, and neither file is for others on the machine.
#[cfg(unix)]
#[test]
fn a_copy_holds_no_sign_ins_and_is_its_owner_s() {
    use std::os::unix::fs::PermissionsExt;
    let folder = tempfile::tempdir().unwrap();
    let (database, copy) = (
        folder.path().join("school.db"),
        folder.path().join("copy.db"),
    );
    let store = cimento_store::Store::open(&database).unwrap();
    let role = cimento_store::Role::Student;
    store
        .add_user("varga", "I. Varga", role, "red-and-black")
        .unwrap();
    let (token, _) = store
        .sign_in("varga", "red-and-black", &AT_FIRST)
        .unwrap()
        .unwrap();
    store.backup(&copy).unwrap();
    for file in [&database, &copy] {
        let mode = std::fs::metadata(file).unwrap().permissions().mode();
        assert_eq!(mode & 0o777, 0o600, "{}", file.display());
    }
    let copied = cimento_store::Store::open(&copy).unwrap();
    assert!(copied.signed_in(&token, 0).unwrap().is_none());
    assert!(
        copied
            .sign_in("varga", "red-and-black", &AT_FIRST)
            .unwrap()
            .is_some()
    );
    assert!(store.signed_in(&token, 0).unwrap().is_some());
    // A copy that cannot be written leaves nothing behind.
    let nowhere = folder.path().join("no folder").join("copy.db");
    assert!(store.backup(&nowhere).is_err());
    assert!(!nowhere.exists());
}

/// The system ends the program as a person does: at once, with everything in the file.
#[cfg(unix)]
#[test]
fn it_ends_when_it_is_told_to() {
    use std::io::{BufRead, BufReader, Read, Write};
    use std::process::Stdio;
    use std::time::{Duration, Instant};
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("index.html"), "<!doctype html>").unwrap();
    let database = folder.path().join("school.db");
    let mut server = Command::new(env!("CARGO_BIN_EXE_cimento"))
        .args(["serve", "--port", "0", "--web"])
        .arg(folder.path())
        .arg("--database")
        .arg(&database)
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut line = String::new();
    BufReader::new(server.stdout.take().unwrap())
        .read_line(&mut line)
        .unwrap();
    let address = line.trim().rsplit("http://").next().unwrap().to_owned();
    // Somebody asks for something, and somebody else sends half of a request and waits.
    let mut asks = std::net::TcpStream::connect(&address).unwrap();
    asks.write_all(b"GET / HTTP/1.1\r\nHost: school\r\nConnection: close\r\n\r\n")
        .unwrap();
    let mut answer = String::new();
    asks.read_to_string(&mut answer).unwrap();
    assert!(answer.starts_with("HTTP/1.1 200"), "{answer}");
    assert!(
        answer.to_lowercase().contains("cache-control: no-store"),
        "{answer}"
    );
    let mut waits = std::net::TcpStream::connect(&address).unwrap();
    waits
        .write_all(b"POST /api/sign-in HTTP/1.1\r\nHost: school\r\nContent-Length: 100\r\n\r\nhalf")
        .unwrap();
    std::thread::sleep(Duration::from_millis(200));
    let told = Instant::now();
    Command::new("kill")
        .arg(server.id().to_string())
        .status()
        .unwrap();
    let status = server.wait().unwrap();
    assert_eq!(status.code(), Some(0));
    assert!(
        told.elapsed() < Duration::from_secs(10),
        "{:?}",
        told.elapsed()
    );
    let log = std::fs::metadata(folder.path().join("school.db-wal"));
    assert!(log.is_err() || log.unwrap().len() == 0);
}

/// A demo school that was begun when the power went is none, and the next start makes a whole one.
#[test]
fn a_demo_that_was_begun_and_not_ended_is_none() {
    use std::io::{BufRead, BufReader};
    use std::process::Stdio;
    let home = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("index.html"), "<!doctype html>").unwrap();
    let database = folder.path().join("school.db");
    let start = || {
        let mut demo = Command::new(env!("CARGO_BIN_EXE_cimento"));
        demo.args(["demo", "--port", "0", "--database"])
            .arg(&database);
        demo.arg("--web").arg(folder.path());
        demo.arg("--school").arg(home.join("demo"));
        demo.stdout(Stdio::piped()).stderr(Stdio::null());
        let mut child = demo.spawn().unwrap();
        let lines = BufReader::new(child.stdout.take().unwrap()).lines();
        (child, lines)
    };
    let people = || {
        let store = cimento_store::Store::open(&database).unwrap();
        store.people().unwrap().len()
    };
    let (mut child, mut lines) = start();
    let said = lines.next().unwrap().unwrap();
    assert!(said.starts_with("Making the demo school"), "{said}");
    std::thread::sleep(std::time::Duration::from_millis(400));
    child.kill().unwrap();
    child.wait().unwrap();
    assert_eq!(people(), 0);
    let (mut child, lines) = start();
    let ready = lines.map(Result::unwrap).find(|l| l.contains("is ready"));
    child.kill().unwrap();
    child.wait().unwrap();
    assert!(ready.is_some());
    assert!(people() > 20, "{} people", people());
    assert!(!folder.path().join("school.begun").exists());
}

/// A server does not begin an empty school in the place of one that was deleted and rescued.
#[test]
fn a_school_that_was_rescued_is_put_back_before_anything_else() {
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name).display().to_string();
    std::fs::write(folder.path().join("index.html"), "page").unwrap();
    let (database, rescued) = (path("school.db"), path("school.db.rescued"));
    let store = cimento_store::Store::open(Path::new(&rescued)).unwrap();
    let role = cimento_store::Role::Instructor;
    store
        .add_user("dalca", "R. Dalca", role, "red-and-black")
        .unwrap();
    drop(store);
    let web = folder.path().display().to_string();
    let serve = [
        "serve",
        "--database",
        &database,
        "--web",
        &web,
        "--port",
        "0",
    ];
    let (code, _, err) = cimento(&serve);
    assert_eq!(code, 2, "{err}");
    assert!(err.contains(&format!("cimento restore {rescued}")), "{err}");
    assert!(!Path::new(&database).exists());
    let (code, _, err) = cimento(&["restore", "--database", &database, &rescued]);
    assert_eq!(code, 0, "{err}");
    let (_, out, _) = cimento(&["person", "list", "--database", &database]);
    assert!(out.contains("dalca"), "{out}");
}
