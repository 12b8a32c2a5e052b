//! What is told of a machine: by its customer, who may be wrong, and by the workshop's book of earlier work. Words alone:
//! nothing is ruled out by them.

use cimento_model::circuit::Problem;
use cimento_model::faults::Condition;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Longest line, in characters, and most lines of the book.
const LONGEST: usize = 300;
const MOST: usize = 20;

/// What a lesson says of it beyond what the machine says of itself.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = ToldOfMachine)]
pub struct Told {
    /// Earlier work, oldest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub earlier: Vec<Earlier>,
    /// What the customer answers; what is not here is answered by what the machine does.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub answers: Vec<CustomersAnswer>,
}

/// A line of the book.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Earlier {
    /// "in March", "at 1,210 hours".
    pub when: String,
    /// "Battery renewed."
    pub what: String,
    /// It leads astray, which is said afterwards.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub misleads: bool,
}

/// An answer of the customer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CustomersAnswer {
    pub question: CustomerQuestion,
    pub says: String,
    /// It leads astray, which is said afterwards.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub misleads: bool,
}

/// What a customer may be asked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CustomerQuestion {
    Began,
    Often,
    Heat,
    Water,
    Shaking,
    Work,
    Others,
}

impl CustomerQuestion {
    pub const ALL: [Self; 7] = [
        Self::Began,
        Self::Often,
        Self::Heat,
        Self::Water,
        Self::Shaking,
        Self::Work,
        Self::Others,
    ];

    /// As it is asked.
    pub fn text(self) -> &'static str {
        match self {
            Self::Began => "When did it begin?",
            Self::Often => "Every time, or now and then?",
            Self::Heat => "Hot or cold: does it matter?",
            Self::Water => "After rain, or after washing?",
            Self::Shaking => "On rough ground?",
            Self::Work => "After what work on it?",
            Self::Others => "Who has looked at it before?",
        }
    }

    /// What somebody says who has noticed what there is to notice.
    fn usually(self, condition: Condition) -> &'static str {
        let shakes = matches!(condition, Condition::Moved | Condition::Vibrating);
        match self {
            Self::Began => "Some days ago. I could not say which.",
            Self::Often if condition == Condition::Always => "Every time.",
            Self::Often => "Now and then.",
            Self::Heat if condition == Condition::Hot => "Only when it has run for a while.",
            Self::Water if condition == Condition::Wet => "Yes, that is when it does it.",
            Self::Shaking if shakes => "Yes, it comes with the bumps.",
            Self::Heat | Self::Water | Self::Shaking => "I have not noticed any difference.",
            Self::Work => "Nothing was done to it that I know of.",
            Self::Others => "Nobody but you.",
        }
    }
}

impl Told {
    pub(crate) fn is_empty(&self) -> bool {
        self == &Self::default()
    }

    /// Checks its lines.
    ///
    /// # Errors
    /// [`Problem`] with the path of what is wrong.
    pub fn check(&self) -> Result<(), Problem> {
        if self.earlier.len() > MOST {
            let text = format!("expected at most {MOST} lines");
            return Err(Problem::refused("told.earlier", text));
        }
        let earlier = self.earlier.iter().enumerate();
        let lines = earlier.flat_map(|(n, line)| {
            [
                (format!("told.earlier[{n}].when"), &line.when),
                (format!("told.earlier[{n}].what"), &line.what),
            ]
        });
        let answers = self.answers.iter().enumerate();
        let answers = answers.map(|(n, a)| (format!("told.answers[{n}].says"), &a.says));
        for (path, text) in lines.chain(answers) {
            if !(1..=LONGEST).contains(&text.trim().chars().count()) {
                let expected = format!("expected 1 to {LONGEST} characters");
                return Err(Problem::refused(path, expected));
            }
        }
        let twice = |n: usize| {
            let before = &self.answers[..n];
            before
                .iter()
                .any(|a| a.question == self.answers[n].question)
        };
        match (0..self.answers.len()).find(|n| twice(*n)) {
            Some(n) => Err(Problem::refused(
                format!("told.answers[{n}].question"),
                "it is answered twice",
            )),
            None => Ok(()),
        }
    }

    /// What the customer answers, of a machine that shows its complaint under a condition.
    pub fn answer(&self, question: CustomerQuestion, condition: Option<Condition>) -> String {
        let own = self.answers.iter().find(|a| a.question == question);
        match own {
            Some(answer) => answer.says.clone(),
            None => question.usually(condition.unwrap_or_default()).to_owned(),
        }
    }

    /// The book, a line for each entry.
    pub fn book(&self) -> String {
        let line = |e: &Earlier| format!("{}: {}", e.when.trim(), e.what.trim());
        let lines: Vec<String> = self.earlier.iter().map(line).collect();
        match lines.is_empty() {
            true => "Nothing is on record for this machine.".to_owned(),
            false => lines.join("\n"),
        }
    }

    /// What of it leads astray, as it is said afterwards.
    pub fn misleading(&self) -> Vec<String> {
        let earlier = self.earlier.iter().filter(|e| e.misleads);
        let earlier = earlier.map(|e| format!("On record, {}: “{}”", e.when, e.what));
        let answers = self.answers.iter().filter(|a| a.misleads);
        let answers =
            answers.map(|a| format!("“{}” the customer said: “{}”", a.question.text(), a.says));
        earlier.chain(answers).collect()
    }
}
