//! The tables as Diesel sees them.

diesel::table! {
    users (id) {
        id -> Integer,
        name -> Text,
        display -> Text,
        password_hash -> Text,
        retired_at -> Nullable<BigInt>,
        source -> Nullable<Text>,
        pin_hash -> Nullable<Text>,
    }
}

diesel::table! {
    sign_ins (token_hash) {
        token_hash -> Text,
        user_id -> Integer,
        expires_at -> BigInt,
        began_at -> BigInt,
        browser -> Text,
    }
}

diesel::table! {
    circuits (id) {
        id -> Integer,
        title -> Text,
        document -> Text,
        updated_at -> BigInt,
        version -> Integer,
        retired_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    lessons (id) {
        id -> Integer,
        title -> Text,
        document -> Text,
        author_id -> Integer,
        created_at -> BigInt,
        family -> Integer,
        version -> Integer,
        folder -> Text,
        retired_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    attempts (id) {
        id -> Integer,
        lesson_id -> Integer,
        student_id -> Integer,
        given_at -> BigInt,
        assignment_id -> Nullable<Integer>,
        no -> Integer,
        handed_in_at -> Nullable<BigInt>,
        began_passed_s -> Nullable<BigInt>,
        partner_id -> Nullable<Integer>,
    }
}

diesel::table! {
    asked (attempt_id) {
        attempt_id -> Integer,
        action -> Text,
        at -> BigInt,
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
        by_partner -> Bool,
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
    placements (shape) {
        shape -> Text,
        document -> Text,
    }
}

diesel::table! {
    sketches (user_id, machine) {
        user_id -> Integer,
        machine -> Text,
        marks -> Text,
        changed_at -> BigInt,
    }
}

diesel::table! {
    rule_sets (id) {
        id -> Integer,
        name -> Text,
        author_id -> Integer,
        rules -> Text,
    }
}

diesel::table! {
    school (id) {
        id -> Integer,
        name -> Text,
        opened_at -> BigInt,
        scale -> Text,
        kept_months -> Nullable<Integer>,
        keeps_figures -> Bool,
        passed_s -> BigInt,
    }
}

diesel::table! {
    reset_links (token_hash) {
        token_hash -> Text,
        user_id -> Integer,
        expires_at -> BigInt,
    }
}

diesel::table! {
    second_looks (id) {
        id -> Integer,
        attempt_id -> Integer,
        criterion -> Text,
        asked -> Text,
        asked_at -> BigInt,
        answer -> Nullable<Text>,
        changed -> Bool,
        answered_at -> Nullable<BigInt>,
        answered_by -> Nullable<Text>,
    }
}

diesel::table! {
    roles (user_id, role) {
        user_id -> Integer,
        role -> Text,
    }
}

diesel::table! {
    classes (id) {
        id -> Integer,
        name -> Text,
        made_at -> BigInt,
        over_at -> Nullable<BigInt>,
        source -> Nullable<Text>,
        code -> Nullable<Text>,
        course_id -> Nullable<Integer>,
    }
}

diesel::table! {
    courses (id) {
        id -> Integer,
        title -> Text,
        about -> Text,
        author_id -> Integer,
        made_at -> BigInt,
        retired_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    course_lessons (course_id, place) {
        course_id -> Integer,
        place -> Integer,
        family -> Integer,
        chapter -> Text,
    }
}

diesel::table! {
    members (class_id, user_id) {
        class_id -> Integer,
        user_id -> Integer,
        role -> Text,
    }
}

diesel::table! {
    assignments (id) {
        id -> Integer,
        class_id -> Integer,
        lesson_id -> Integer,
        whole_class -> Bool,
        opens_at -> Nullable<BigInt>,
        due_at -> Nullable<BigInt>,
        closes_at -> Nullable<BigInt>,
        attempts -> Integer,
        counts -> Text,
        sheets -> Text,
        released_at -> Nullable<BigInt>,
        made_at -> BigInt,
        paused_at -> Nullable<BigInt>,
        paused_passed_s -> Nullable<BigInt>,
        category -> Text,
    }
}

diesel::table! {
    category_weights (class_id, category) {
        class_id -> Integer,
        category -> Text,
        weight -> Double,
    }
}

diesel::table! {
    assigned (assignment_id, user_id) {
        assignment_id -> Integer,
        user_id -> Integer,
        extra_minutes -> Double,
        excused_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    words (id) {
        id -> Integer,
        assignment_id -> Integer,
        student_id -> Nullable<Integer>,
        author -> Text,
        said -> Text,
        at -> BigInt,
    }
}

diesel::table! {
    audit (id) {
        id -> Integer,
        at -> BigInt,
        actor -> Text,
        act -> Text,
        whom -> Text,
    }
}

diesel::joinable!(assigned -> assignments (assignment_id));
diesel::joinable!(roles -> users (user_id));
diesel::joinable!(sign_ins -> users (user_id));
diesel::joinable!(reset_links -> users (user_id));
diesel::joinable!(attempts -> lessons (lesson_id));
diesel::joinable!(attempts -> users (student_id));
diesel::joinable!(steps -> attempts (attempt_id));
diesel::table! {
    class_groups (id) {
        id -> Integer,
        class_id -> Integer,
        name -> Text,
    }
}

diesel::table! {
    pools (assignment_id, lesson_id) {
        assignment_id -> Integer,
        lesson_id -> Integer,
    }
}

diesel::table! {
    grouped (group_id, user_id) {
        group_id -> Integer,
        user_id -> Integer,
    }
}

diesel::joinable!(rule_sets -> users (author_id));
diesel::joinable!(grouped -> class_groups (group_id));
diesel::allow_tables_to_appear_in_same_query!(
    users,
    sign_ins,
    reset_links,
    circuits,
    lessons,
    attempts,
    steps,
    roles,
    assignments,
    assigned,
);
diesel::allow_tables_to_appear_in_same_query!(members, users);
diesel::allow_tables_to_appear_in_same_query!(rule_sets, users);
diesel::allow_tables_to_appear_in_same_query!(class_groups, grouped, members);

diesel::table! {
    sheets (id) {
        id -> Integer,
        attempt_id -> Integer,
        engine -> Text,
        made_at -> BigInt,
        sheet -> Text,
        debrief -> Text,
        stands -> Bool,
        computed -> Double,
    }
}

diesel::table! {
    prospects (lesson_id) {
        lesson_id -> Integer,
        engine -> Text,
        prospect -> Text,
    }
}

diesel::table! {
    votes (id) {
        id -> Integer,
        assignment_id -> Integer,
        asked -> Text,
        asked_at -> BigInt,
        shown_at -> Nullable<BigInt>,
        ended_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    vote_answers (vote_id, user_id) {
        vote_id -> Integer,
        user_id -> Integer,
        expected -> Text,
    }
}

diesel::table! {
    seats (class_id, user_id) {
        class_id -> Integer,
        user_id -> Integer,
        place_column -> Integer,
        place_row -> Integer,
    }
}
