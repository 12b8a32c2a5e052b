//! What people are in a school.

use crate::error::StoreError;

/// What a person may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    /// Looks after the people and the school, and sees nothing of a class.
    Administrator,
    /// Makes lessons, and teaches classes.
    Instructor,
    /// Sees and helps in classes, and gives no marks.
    Assistant,
    Student,
}

impl Role {
    pub const ALL: [Self; 4] = [
        Self::Administrator,
        Self::Instructor,
        Self::Assistant,
        Self::Student,
    ];

    /// As stored and sent.
    pub fn name(self) -> &'static str {
        match self {
            Self::Administrator => "administrator",
            Self::Instructor => "instructor",
            Self::Assistant => "assistant",
            Self::Student => "student",
        }
    }

    /// The role of a name.
    ///
    /// # Errors
    /// [`StoreError::Damaged`] where there is none.
    pub fn parse(text: &str) -> Result<Self, StoreError> {
        let found = Self::ALL.into_iter().find(|role| role.name() == text);
        found.ok_or_else(|| StoreError::Damaged(format!("a role “{text}”")))
    }
}

/// What one person is: one thing or several.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Roles([bool; 4]);

impl Roles {
    pub fn has(self, role: Role) -> bool {
        self.0[role as usize]
    }

    pub fn iter(self) -> impl Iterator<Item = Role> {
        Role::ALL.into_iter().filter(move |role| self.has(*role))
    }

    pub fn is_empty(self) -> bool {
        self.iter().next().is_none()
    }

    /// Of names with commas between them.
    pub(crate) fn parse(text: &str) -> Result<Self, StoreError> {
        let names = text.split(',').filter(|name| !name.is_empty());
        names.map(Role::parse).collect()
    }
}

impl FromIterator<Role> for Roles {
    fn from_iter<T: IntoIterator<Item = Role>>(roles: T) -> Self {
        let mut all = Self::default();
        for role in roles {
            all.0[role as usize] = true;
        }
        all
    }
}

impl From<Role> for Roles {
    fn from(role: Role) -> Self {
        std::iter::once(role).collect()
    }
}
