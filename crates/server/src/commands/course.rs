//! `cimento course`: every lesson of a course proven, as a table.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use cimento_diagnosis::course::{CourseDoc, CourseLesson, Held, Proof, assembled, untaught};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Skill};
use cimento_diagnosis::suspects::Reference;
use cimento_model::circuit::{Problem, Severity, read_json};
use clap::Args;
use serde::Serialize;

use super::{Failure, files, print_json};

#[derive(Args)]
pub(super) struct CourseArgs {
    /// The course document; its lessons and circuits lie beside it.
    file: PathBuf,
    /// Only lessons whose file name holds this.
    #[arg(long)]
    only: Option<String>,
    #[arg(long)]
    json: bool,
    /// Prove nothing: print the course with its lessons whole, as a school takes it in.
    #[arg(long)]
    whole: bool,
}

/// A lesson of a course with what is proven of it.
#[derive(Serialize)]
struct Line {
    number: usize,
    file: String,
    title: String,
    #[serde(flatten)]
    proof: Option<Proof>,
    /// What hinders the proof, or speaks against the lesson's place in the course.
    problems: Vec<Problem>,
}

/// The documents of a course, in its order.
pub(super) fn documents(
    file: &Path,
) -> Result<(CourseDoc, Vec<(CourseLesson, LessonDoc)>), Failure> {
    let course: CourseDoc = parsed(file)?;
    let at = |p: Problem| Failure::BadInput(format!("{}: {p}", file.display()));
    course.check().map_err(at)?;
    let folder = file.parent().unwrap_or(Path::new("."));
    let mut out = Vec::new();
    for (n, entry) in course.lessons.iter().enumerate() {
        let lesson = match (&entry.lesson, &entry.circuit) {
            (Held::Whole(lesson), _) => (**lesson).clone(),
            (Held::File(lesson), Some(circuit)) => {
                document(&folder.join(lesson), &folder.join(circuit))?
            }
            (Held::File(_), None) => {
                let text = "expected the file of its circuit";
                return Err(at(Problem::refused(format!("lessons[{n}].circuit"), text)));
            }
        };
        out.push((entry.clone(), lesson));
    }
    Ok((course, out))
}

/// A course in one document.
fn whole(course: CourseDoc, lessons: Vec<(CourseLesson, LessonDoc)>) -> CourseDoc {
    let one = |(entry, lesson): (CourseLesson, LessonDoc)| CourseLesson {
        lesson: Held::Whole(Box::new(lesson)),
        circuit: None,
        chapter: entry.chapter,
    };
    CourseDoc {
        lessons: lessons.into_iter().map(one).collect(),
        ..course
    }
}

/// A lesson whose circuit lies in a file of its own.
pub(super) fn document(lesson: &Path, circuit: &Path) -> Result<LessonDoc, Failure> {
    let folder = lesson.parent().unwrap_or(Path::new("."));
    let other = |file: &str| parsed(&folder.join(file));
    let doc = assembled(parsed(lesson)?, parsed(circuit)?, other)?;
    read_json(&doc.to_string()).map_err(|e| Failure::BadInput(format!("{}: {e}", lesson.display())))
}

/// A document of a file.
pub(super) fn parsed<T: serde::de::DeserializeOwned>(file: &Path) -> Result<T, Failure> {
    let text = files::text(file)?;
    read_json(&text).map_err(|e| Failure::BadInput(format!("{}: {e}", file.display())))
}

/// A lesson with what is proven of it; nothing where no fault is looked for.
pub(super) fn prove(doc: LessonDoc) -> Result<(Arc<Lesson>, Option<Proof>), Vec<Problem>> {
    let lesson = Lesson::new(doc).map_err(|refused| refused.0)?;
    if !lesson.seeks_fault() {
        return Ok((lesson, None));
    }
    let unsolved = |e: cimento_bench::BenchError| vec![Problem::refused("faults", e.to_string())];
    let reference = Reference::new(&lesson).map_err(unsolved)?;
    let proof = Proof::of(&reference).map_err(unsolved)?;
    Ok((lesson, Some(proof)))
}

/// Exit code 0 when all is well, 1 with warnings only, 2 when a lesson cannot be given as it stands.
pub(super) fn run(args: &CourseArgs) -> Result<(), Failure> {
    let (course, lessons) = documents(&args.file)?;
    if args.whole {
        print_json(&whole(course, lessons));
        return Ok(());
    }
    let declared: Vec<Vec<Skill>> = lessons.iter().map(|(_, l)| l.skills.clone()).collect();
    let untaught = untaught(&declared);
    let mut lines = Vec::new();
    for (n, (entry, doc)) in lessons.into_iter().enumerate() {
        let file = entry.file().unwrap_or_default().to_owned();
        if args.only.as_ref().is_some_and(|o| !file.contains(o)) {
            continue;
        }
        let title = doc.title.clone();
        let (proof, mut problems) = match prove(doc) {
            Ok((_, proof)) => (proof, Vec::new()),
            Err(problems) => (None, problems),
        };
        let too_early = untaught.iter().filter(|(at, ..)| *at == n);
        problems.extend(too_early.map(|(_, skill, missing)| {
            let text = format!("“{}” needs “{}” first", skill.name(), missing.name());
            Problem::warning("skills", text)
        }));
        let line = Line {
            number: n + 1,
            file,
            title,
            proof,
            problems,
        };
        if !args.json {
            print(&line);
        }
        lines.push(line);
    }
    if args.json {
        print_json(&lines);
    } else {
        println!("{}: {} lessons", course.title, lines.len());
    }
    let hinders = lines.iter().flat_map(|l| &l.proof).flat_map(hindrances);
    let named = lines.iter().flat_map(|l| &l.problems).cloned();
    let all: Vec<Problem> = hinders.chain(named).collect();
    let refused = all.iter().filter(|p| p.severity == Severity::Refused);
    match (refused.count(), all.len()) {
        (0, 0) => Ok(()),
        (0, n) => Err(Failure::Finding(format!("{n} to think of"))),
        (n, _) => Err(Failure::BadInput(format!(
            "{n} that stand in the way of giving the course"
        ))),
    }
}

fn print(line: &Line) {
    println!("{:>2}. {} ({})", line.number, line.title, line.file);
    if let Some(proof) = &line.proof {
        print_proof(proof);
    }
    let hinders = line.proof.iter().flat_map(hindrances);
    for problem in hinders.chain(line.problems.iter().cloned()) {
        println!("    ! {problem}");
    }
}

/// What is proven of a lesson, for people.
pub(super) fn print_proof(proof: &Proof) {
    println!(
        "    {} places, {} readings, {:.0} min, {:.1} bit, {} false leads; told apart down to {}",
        proof.places,
        proof.readings,
        proof.minutes,
        proof.bits,
        proof.misleading,
        proof.group.join(", ")
    );
    let skill = |p: &cimento_diagnosis::course::Practised| match p.shown {
        true => p.skill.name().to_owned(),
        false => format!("{} (declared)", p.skill.name()),
    };
    let skills: Vec<String> = proof.skills.iter().map(skill).collect();
    println!("    skills: {}", skills.join("; "));
}

/// Why a lesson cannot be given as it stands, as a check tells it.
pub(super) fn hindrances(proof: &Proof) -> Vec<Problem> {
    let told = proof.hinders.iter();
    told.map(|h| Problem::refused(h.of.as_str(), h.text.as_str()))
        .collect()
}
