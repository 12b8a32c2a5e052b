//! Classes and who is in them.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_store::{ClassRow, Member, Role, Seat, User};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use crate::access::{peopled, taught};
use crate::clock::now;
use crate::problem::Problem;
use crate::session::Staff;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(change))
        .routes(routes!(enrol, leave))
        .routes(routes!(sit, stand_up))
}

/// A class with who is in it.
#[derive(Serialize, ToSchema)]
struct ClassView {
    id: i32,
    name: String,
    /// It is over: nothing is given out in it any more.
    over: bool,
    /// What whoever asks is in it.
    #[schema(example = "instructor")]
    own_role: Option<&'static str>,
    /// Its students sign in by this code and a PIN, where it has one; for its instructors and assistants.
    code: Option<String>,
    /// The course that it takes.
    course: Option<i32>,
    members: Vec<MemberView>,
}

#[derive(Serialize, ToSchema)]
struct MemberView {
    id: i32,
    display: String,
    #[schema(example = "student")]
    role: &'static str,
    /// They have left the school.
    left: bool,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewClass {
    name: String,
}

#[derive(Serialize, ToSchema)]
struct CreatedClass {
    id: i32,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ClassChange {
    name: String,
    over: bool,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Enrolment {
    /// instructor, assistant or student.
    role: String,
}

fn view(
    class: ClassRow,
    code: Option<String>,
    course: Option<i32>,
    members: &[Member],
) -> ClassView {
    let own = members.iter().filter(|m| m.class == class.id);
    let member = |m: &Member| MemberView {
        id: m.person,
        display: m.display.clone(),
        role: m.role.name(),
        left: m.left,
    };
    ClassView {
        id: class.id,
        name: class.name,
        over: class.over_at.is_some(),
        own_role: class.asker.map(Role::name),
        code,
        course,
        members: own.map(member).collect(),
    }
}

/// The classes that one teaches or helps in; for an administrator, all.
#[utoipa::path(get, operation_id = "classes_list", path = "/api/classes", responses((status = 200, body = Vec<ClassView>), (status = 403, body = Problem)))]
async fn list(
    State(state): State<AppState>,
    Staff(user): Staff,
) -> Result<Json<Vec<ClassView>>, Problem> {
    let found = state.work(move |s| {
        let members = s.store.members()?;
        let all = user.roles.has(Role::Administrator);
        let own = |c: &ClassRow| matches!(c.asker, Some(Role::Instructor | Role::Assistant));
        let classes = s.store.classes(user.id)?.into_iter();
        let courses = s.store.courses_of_classes()?;
        let mut out = Vec::new();
        for class in classes.filter(|c| all || own(c)) {
            let code = match own(&class) {
                true => s.store.class_code(class.id)?,
                false => None,
            };
            let course = courses.get(&class.id).copied();
            out.push(view(class, code, course, &members));
        }
        Ok(out)
    });
    Ok(Json(found.await?))
}

/// Make a class. An instructor teaches it; an administrator says afterwards who does.
#[utoipa::path(post, operation_id = "classes_create", path = "/api/classes", request_body = NewClass, responses((status = 200, body = CreatedClass), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn create(
    State(state): State<AppState>,
    Staff(user): Staff,
    Body(new): Body<NewClass>,
) -> Result<Json<CreatedClass>, Problem> {
    let made = state.work(move |s| {
        let teaches = user.roles.has(Role::Instructor);
        if !teaches && !user.roles.has(Role::Administrator) {
            return Err(Problem::forbidden("this is for instructors"));
        }
        let id = s
            .store
            .add_class(&new.name, teaches.then_some(user.id), now())?;
        s.store
            .note(&user.name, "made a class", new.name.trim(), now())?;
        Ok(id)
    });
    Ok(Json(CreatedClass { id: made.await? }))
}

/// Rename a class, or say that it is over or goes on.
#[utoipa::path(put, operation_id = "classes_change", path = "/api/classes/{id}", params(("id" = i32, Path)), request_body = ClassChange, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn change(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
    Body(given): Body<ClassChange>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let before = peopled(s, id, &user)?;
            let over = given.over.then(|| before.over_at.unwrap_or_else(now));
            s.store.change_class(id, &given.name, over)?;
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Take somebody into a class, or make them something else in it.
#[utoipa::path(put, operation_id = "classes_enrol", path = "/api/classes/{id}/members/{person}", params(("id" = i32, Path), ("person" = i32, Path)), request_body = Enrolment, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn enrol(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path((id, person)): Path<(i32, i32)>,
    Body(given): Body<Enrolment>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let class = peopled(s, id, &user)?;
            let whom = s.store.person(person)?;
            let role = [Role::Instructor, Role::Assistant, Role::Student];
            let role = role.into_iter().find(|r| r.name() == given.role);
            let role = role.ok_or_else(|| {
                let found = &given.role;
                Problem::bad(format!(
                    "role: expected instructor, assistant or student, found {found}"
                ))
            })?;
            if !whom.roles.has(role) {
                let (who, what) = (&whom.display, role.name());
                return Err(Problem::bad(format!(
                    "{who} is no {what} of the school: an administrator can make them one"
                )));
            }
            keeps_an_instructor(s, id, (person, Some(role)), &user)?;
            s.store.enrol(id, person, role, now())?;
            let act = format!("made {} of {}", role.name(), class.name);
            s.store.note(&user.name, &act, &whom.name, now())?;
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Take somebody out of a class: what they did stays.
#[utoipa::path(delete, operation_id = "classes_leave", path = "/api/classes/{id}/members/{person}", params(("id" = i32, Path), ("person" = i32, Path)), responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn leave(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path((id, person)): Path<(i32, i32)>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let class = peopled(s, id, &user)?;
            let whom = s.store.person(person)?;
            keeps_an_instructor(s, id, (person, None), &user)?;
            s.store.leave(id, person)?;
            let act = format!("took out of {}", class.name);
            s.store.note(&user.name, &act, &whom.name, now())?;
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Who teaches a class does not leave it without anybody who does, unless somebody else looks after the people.
fn keeps_an_instructor(
    s: &AppState,
    class: i32,
    (person, becomes): (i32, Option<Role>),
    user: &User,
) -> Result<(), Problem> {
    if user.roles.has(Role::Administrator) {
        return Ok(());
    }
    taught(s, class, user)?;
    let members = s.store.members()?;
    let others = members
        .iter()
        .any(|m| m.class == class && m.role == Role::Instructor && m.person != person);
    match others || becomes == Some(Role::Instructor) {
        true => Ok(()),
        false => Err(Problem::bad(
            "a class keeps an instructor: make another one of it first",
        )),
    }
}

/// A place in the room, counted from the front left, from 0.
#[derive(Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct SeatView {
    pub column: i32,
    pub row: i32,
}

/// Seat a student of a class; who sat there changes places with them.
#[utoipa::path(put, operation_id = "classes_sit", path = "/api/classes/{id}/seats/{person}", params(("id" = i32, Path), ("person" = i32, Path)), request_body = SeatView, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn sit(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path((id, person)): Path<(i32, i32)>,
    Body(seat): Body<SeatView>,
) -> Result<StatusCode, Problem> {
    let SeatView { column, row } = seat;
    seated(&state, user, id, person, Some(Seat { column, row })).await
}

/// Take a student's seat away.
#[utoipa::path(delete, operation_id = "classes_stand_up", path = "/api/classes/{id}/seats/{person}", params(("id" = i32, Path), ("person" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn stand_up(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path((id, person)): Path<(i32, i32)>,
) -> Result<StatusCode, Problem> {
    seated(&state, user, id, person, None).await
}

async fn seated(
    state: &AppState,
    user: User,
    class: i32,
    person: i32,
    at: Option<Seat>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let asker = s.store.class(class, user.id)?.asker;
            if !matches!(asker, Some(Role::Instructor | Role::Assistant)) {
                return Err(Problem::not_found(&format!("class {class} of yours")));
            }
            s.store.sit(class, person, at)?;
            s.live.happened_in_a_class();
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
