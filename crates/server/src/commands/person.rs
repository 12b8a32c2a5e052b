//! `cimento init` and `cimento person`: a school's people from the machine that it runs on.

use std::io::BufRead;

use cimento_store::{NewPerson, Role, Roles, Store, StoreError};
use clap::{Args, Subcommand, ValueEnum};

use super::Failure;
use super::serve::open;
use super::settings::Kept;
use crate::clock::now;
use crate::passwords;

#[derive(Args)]
pub(super) struct InitArgs {
    #[command(flatten)]
    kept: Kept,
    /// The school's name.
    #[arg(long, default_value = "School")]
    school: String,
    /// Name that the first administrator, who is an instructor too, signs in with.
    #[arg(long)]
    name: String,
    /// The name that others see, such as "R. Dalca".
    #[arg(long)]
    display: String,
    /// Read the password from standard input; otherwise one is made and printed once.
    #[arg(long)]
    stdin: bool,
}

#[derive(Args)]
pub(super) struct PersonArgs {
    #[command(flatten)]
    kept: Kept,
    #[command(subcommand)]
    what: What,
}

#[derive(Subcommand)]
enum What {
    /// List everybody.
    List,
    /// Add somebody.
    Add {
        /// Name to sign in with.
        name: String,
        /// The name that others see.
        display: String,
        /// What they are; several with commas.
        #[arg(long, value_enum, value_delimiter = ',', default_values_t = [As::Student])]
        role: Vec<As>,
        /// Read the password from standard input; otherwise one is made and printed once.
        #[arg(long)]
        stdin: bool,
    },
    /// Give somebody another password, and end their sign-ins.
    Password {
        name: String,
        /// Read the password from standard input; otherwise one is made and printed once.
        #[arg(long)]
        stdin: bool,
    },
    /// Say what somebody is: several with commas.
    Roles {
        name: String,
        #[arg(value_enum, value_delimiter = ',', required = true)]
        roles: Vec<As>,
    },
    /// Somebody has left: they sign in no more, and their work stays.
    Retire { name: String },
    /// Somebody is back.
    Restore { name: String },
}

#[derive(Clone, Copy, ValueEnum)]
enum As {
    Administrator,
    Instructor,
    Assistant,
    Student,
}

impl From<As> for Role {
    fn from(role: As) -> Self {
        match role {
            As::Administrator => Self::Administrator,
            As::Instructor => Self::Instructor,
            As::Assistant => Self::Assistant,
            As::Student => Self::Student,
        }
    }
}

pub(super) fn init(args: &InitArgs) -> Result<(), Failure> {
    let database = args.kept.database()?;
    let store = open(&database)?;
    if !store.is_empty().map_err(bad)? {
        let file = database.display();
        return Err(Failure::Finding(format!(
            "{file} has people in it already: add others with `cimento person add`"
        )));
    }
    let given = password(args.stdin)?;
    let first = NewPerson {
        name: args.name.clone(),
        display: args.display.clone(),
        roles: [Role::Administrator, Role::Instructor]
            .into_iter()
            .collect(),
        password: given.text().to_owned(),
    };
    let user = store
        .open_school(&args.school, &first, now())
        .map_err(bad)?;
    println!("opened {} with {}", args.school, user.name);
    given.tell(&user.name);
    Ok(())
}

pub(super) fn run(args: &PersonArgs) -> Result<(), Failure> {
    let database = args.kept.database()?;
    if !database.is_file() {
        let file = database.display();
        let text = format!("there is no database {file}: make one with `cimento init`");
        return Err(Failure::BadInput(text));
    }
    let store = open(&database)?;
    match &args.what {
        What::List => {
            for person in store.people().map_err(bad)? {
                let left = if person.retired_at.is_some() {
                    "  left"
                } else {
                    ""
                };
                let (name, roles) = (&person.name, names(person.roles));
                println!("{name:<20} {roles:<26} {}{left}", person.display);
            }
            Ok(())
        }
        What::Add {
            name,
            display,
            role,
            stdin,
        } => {
            let roles = role.iter().map(|role| Role::from(*role)).collect();
            add(&store, (name, display), roles, *stdin)
        }
        What::Roles { name, roles } => {
            let people = store.people().map_err(bad)?;
            let found = people.iter().find(|p| p.name == name.trim().to_lowercase());
            let Some(person) = found else {
                return Err(Failure::BadInput(format!(
                    "there is no person called {name}"
                )));
            };
            let roles = roles.iter().map(|role| Role::from(*role)).collect();
            let changed = store.change_person(person.id, &person.display, roles);
            println!("{name} is now {}", names(changed.map_err(bad)?.roles));
            Ok(())
        }
        What::Password { name, stdin } => {
            let given = password(*stdin)?;
            store.set_password(name, given.text()).map_err(bad)?;
            given.tell(name);
            Ok(())
        }
        What::Retire { name } => store.set_retired(name, Some(now())).map_err(bad),
        What::Restore { name } => store.set_retired(name, None).map_err(bad),
    }
}

fn add(
    store: &Store,
    (name, display): (&str, &str),
    roles: Roles,
    stdin: bool,
) -> Result<(), Failure> {
    let given = password(stdin)?;
    let user = store
        .add_user(name, display, roles, given.text())
        .map_err(bad)?;
    println!("added {} ({})", user.name, names(user.roles));
    given.tell(&user.name);
    Ok(())
}

fn names(roles: Roles) -> String {
    let names: Vec<&str> = roles.iter().map(Role::name).collect();
    names.join(", ")
}

fn bad(e: StoreError) -> Failure {
    Failure::BadInput(e.to_string())
}

/// A password, and whether its owner knows it already.
enum Password {
    Given(String),
    Made(String),
}

impl Password {
    fn text(&self) -> &str {
        match self {
            Self::Given(text) | Self::Made(text) => text,
        }
    }

    fn tell(&self, name: &str) {
        if let Self::Made(text) = self {
            println!("{name} signs in with the password {text} (it is not shown again)");
        }
    }
}

fn password(stdin: bool) -> Result<Password, Failure> {
    if !stdin {
        return Ok(Password::Made(passwords::made()));
    }
    let mut line = String::new();
    let read = std::io::stdin().lock().read_line(&mut line);
    read.map_err(|e| Failure::BadInput(format!("the password cannot be read: {e}")))?;
    Ok(Password::Given(
        line.trim_end_matches(['\r', '\n']).to_owned(),
    ))
}
