//! The tables as Diesel sees them.

diesel::table! {
    users (id) {
        id -> Integer,
        name -> Text,
        display -> Text,
        role -> Text,
        password_hash -> Text,
        retired_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    sign_ins (token_hash) {
        token_hash -> Text,
        user_id -> Integer,
        expires_at -> BigInt,
    }
}

diesel::table! {
    circuits (id) {
        id -> Integer,
        title -> Text,
        document -> Text,
        updated_at -> BigInt,
        version -> Integer,
    }
}

diesel::table! {
    lessons (id) {
        id -> Integer,
        title -> Text,
        document -> Text,
        author_id -> Integer,
        created_at -> BigInt,
    }
}

diesel::table! {
    attempts (id) {
        id -> Integer,
        lesson_id -> Integer,
        student_id -> Integer,
        given_at -> BigInt,
    }
}

diesel::table! {
    steps (attempt_id, no) {
        attempt_id -> Integer,
        no -> Integer,
        request -> Text,
        action -> Text,
        answer -> Text,
        minutes -> Double,
        at -> BigInt,
    }
}

diesel::table! {
    given_marks (id) {
        id -> Integer,
        attempt_id -> Integer,
        criterion -> Text,
        marks -> Nullable<Double>,
        reason -> Text,
        author_id -> Integer,
        at -> BigInt,
    }
}

diesel::table! {
    kept_versions (circuit_id, version) {
        circuit_id -> Integer,
        version -> Integer,
        document -> Text,
        changed_at -> BigInt,
    }
}

diesel::table! {
    layouts (shape) {
        shape -> Text,
        document -> Text,
    }
}

diesel::joinable!(sign_ins -> users (user_id));
diesel::joinable!(attempts -> lessons (lesson_id));
diesel::joinable!(attempts -> users (student_id));
diesel::joinable!(steps -> attempts (attempt_id));
diesel::allow_tables_to_appear_in_same_query!(users, sign_ins, circuits, lessons, attempts, steps);

diesel::table! {
    sheets (id) {
        id -> Integer,
        attempt_id -> Integer,
        engine -> Text,
        made_at -> BigInt,
        sheet -> Text,
        debrief -> Text,
        stands -> Bool,
    }
}

diesel::table! {
    prospects (lesson_id) {
        lesson_id -> Integer,
        engine -> Text,
        prospect -> Text,
    }
}
