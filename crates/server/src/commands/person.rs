//! `cimento init` and `cimento person`: a school's people from the machine that it runs on.

use std::io::BufRead;

use cimento_store::{Role, Store, StoreError};
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
    /// Name that the first instructor signs in with.
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
        #[arg(long, value_enum, default_value_t = As::Student)]
        role: As,
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
    /// Somebody has left: they sign in no more, and their work stays.
    Retire { name: String },
    /// Somebody is back.
    Restore { name: String },
}

#[derive(Clone, Copy, ValueEnum)]
enum As {
    Student,
    Instructor,
}

impl From<As> for Role {
    fn from(role: As) -> Self {
        match role {
            As::Student => Self::Student,
            As::Instructor => Self::Instructor,
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
    add(
        &store,
        (&args.name, &args.display),
        Role::Instructor,
        args.stdin,
    )
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
                let (name, role) = (&person.name, person.role.name());
                println!("{name:<20} {role:<12} {}{left}", person.display);
            }
            Ok(())
        }
        What::Add {
            name,
            display,
            role,
            stdin,
        } => add(&store, (name, display), (*role).into(), *stdin),
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
    role: Role,
    stdin: bool,
) -> Result<(), Failure> {
    let given = password(stdin)?;
    let user = store
        .add_user(name, display, role, given.text())
        .map_err(bad)?;
    println!("added {} ({})", user.name, role.name());
    given.tell(&user.name);
    Ok(())
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
