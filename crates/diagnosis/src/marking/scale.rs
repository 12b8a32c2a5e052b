//! How a school says marks: rounded its way, and with a grade of its own where it gives grades.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most grades of a scale, and most letters of one.
const MOST: usize = 20;
const LONGEST: usize = 20;

/// To what marks are rounded, half upward.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Rounding {
    #[default]
    Tenth,
    Half,
    Whole,
}

impl Rounding {
    fn steps(self) -> f64 {
        match self {
            Self::Tenth => 10.0,
            Self::Half => 2.0,
            Self::Whole => 1.0,
        }
    }
}

/// A grade, and the marks of 100 from which on it is given.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Grade {
    pub name: String,
    pub from: f64,
}

/// A school's scale. Without grades marks are points and nothing more.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Scale {
    pub rounding: Rounding,
    /// The best first.
    pub grades: Vec<Grade>,
}

impl Scale {
    /// Grades that a school may begin from, by what they are called; where they begin is common practice, from memory.
    pub fn usual() -> Vec<(&'static str, Vec<Grade>)> {
        let grades = |all: &[(&str, f64)]| {
            let grade = |(name, from): &(&str, f64)| Grade {
                name: (*name).to_owned(),
                from: *from,
            };
            all.iter().map(grade).collect()
        };
        let letters = [
            ("A", 90.0),
            ("B", 80.0),
            ("C", 70.0),
            ("D", 60.0),
            ("F", 0.0),
        ];
        vec![
            ("Points alone", Vec::new()),
            ("A to F", grades(&letters)),
            ("Pass or fail", grades(&[("pass", 70.0), ("not yet", 0.0)])),
        ]
    }

    /// Marks as the school rounds them.
    pub fn round(&self, marks: f64) -> f64 {
        let steps = self.rounding.steps();
        // A tenth in binary may lie a hair below the half that it is.
        (marks * steps + 1e-9).round() / steps
    }

    /// The grade of marks once they are rounded; none where the school gives no grades.
    pub fn grade(&self, marks: f64) -> Option<&str> {
        let marks = self.round(marks);
        let found = self.grades.iter().find(|g| marks >= g.from);
        found.map(|g| g.name.trim())
    }

    /// Marks as one reads them: "84.3", "84 · B".
    pub fn says(&self, marks: f64) -> String {
        let digits = usize::from(self.rounding != Rounding::Whole);
        let text = format!("{:.digits$}", self.round(marks));
        match self.grade(marks) {
            Some(grade) => format!("{text} · {grade}"),
            None => text,
        }
    }

    /// Whether it gives every mark exactly one grade.
    ///
    /// # Errors
    /// A sentence that says which grade is wrong, and what was expected.
    pub fn check(&self) -> Result<(), String> {
        if self.grades.len() > MOST {
            return Err(format!("expected at most {MOST} grades"));
        }
        let mut before: Vec<&Grade> = Vec::new();
        for grade in &self.grades {
            let (name, from) = (grade.name.trim(), grade.from);
            let control = name.chars().any(char::is_control);
            if name.is_empty() || control || name.chars().count() > LONGEST {
                return Err(format!(
                    "“{name}”: expected a grade of 1 to {LONGEST} letters"
                ));
            }
            if !(0.0..=100.0).contains(&from) {
                return Err(format!("{name}: expected 0 to 100 marks, not {from}"));
            }
            if before.iter().any(|b| b.name.trim() == name) {
                return Err(format!("{name} is there twice"));
            }
            if let Some(above) = before.last().filter(|above| from >= above.from) {
                let above = above.name.trim();
                return Err(format!(
                    "{name} stands below {above}: expected it to begin at fewer marks"
                ));
            }
            before.push(grade);
        }
        match self.grades.last() {
            Some(last) if last.from > 0.0 => Err(format!(
                "{}: the last grade is for whoever has less, expected it to begin at 0",
                last.name.trim()
            )),
            _ => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn letters() -> Scale {
        Scale {
            rounding: Rounding::Whole,
            grades: Scale::usual().swap_remove(1).1,
        }
    }

    #[test]
    fn what_one_may_begin_from_is_a_scale() {
        for (name, grades) in Scale::usual() {
            let scale = Scale {
                grades,
                ..Scale::default()
            };
            assert_eq!(scale.check(), Ok(()), "{name}");
        }
    }

    /// By hand.
    #[test]
    fn marks_are_rounded_before_they_are_graded() {
        let scale = letters();
        assert_eq!(scale.check(), Ok(()));
        let graded = [89.5, 89.4, 100.0, 60.0, 59.4, 0.0].map(|m| scale.grade(m).unwrap());
        assert_eq!(graded, ["A", "B", "A", "D", "F", "F"]);
        let half = Scale {
            rounding: Rounding::Half,
            grades: Vec::new(),
        };
        assert_eq!(
            [72.2, 72.3, 72.75].map(|m| half.round(m)),
            [72.0, 72.5, 73.0]
        );
        assert_eq!([scale.says(83.6), half.says(71.9)], ["84 · B", "72.0"]);
        assert_eq!(
            (Scale::default().round(7.05), half.grade(50.0)),
            (7.1, None)
        );
    }

    #[test]
    fn a_scale_that_leaves_marks_without_a_grade_or_with_two_is_refused() {
        let wrong = |change: fn(&mut Scale)| {
            let mut scale = letters();
            change(&mut scale);
            scale.check().unwrap_err()
        };
        assert!(wrong(|s| s.grades[1].from = 95.0).contains("B stands below A"));
        assert!(wrong(|s| s.grades[4].from = 10.0).contains("begin at 0"));
        assert!(wrong(|s| s.grades[0].from = 101.0).contains("0 to 100"));
        assert!(wrong(|s| s.grades[0].from = f64::NAN).contains("0 to 100"));
        assert!(wrong(|s| s.grades[2].name = "A".to_owned()).contains("twice"));
        assert!(wrong(|s| s.grades[4].name = " A ".to_owned()).contains("twice"));
        for name in [" ", "a\u{7}b", "twenty-one letters !!!!"] {
            let mut scale = letters();
            scale.grades[2].name = name.to_owned();
            assert!(
                scale.check().unwrap_err().contains("1 to 20 letters"),
                "{name}"
            );
        }
    }

    proptest! {
        /// More marks are never a worse grade, and rounding moves nothing by more than half a step.
        #[test]
        fn more_is_never_worse(a in 0.0..=100.0_f64, b in 0.0..=100.0_f64) {
            let scale = letters();
            let at = |m| scale.grades.iter().position(|g| Some(g.name.as_str()) == scale.grade(m));
            let (low, high) = (a.min(b), a.max(b));
            prop_assert!(at(high) <= at(low));
            prop_assert!((scale.round(a) - a).abs() <= 0.5 + 1e-6);
        }
    }
}
