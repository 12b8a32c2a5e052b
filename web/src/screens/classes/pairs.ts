// Who works with whom: benches of two, one after the other, with nobody where one works alone.
export type Benches = (number | null)[];

/** As they come: the first with the second, the third with the fourth. */
export function inOrder(students: number[]): Benches {
  return students.length % 2 === 0 ? students : [...students, null];
}

/** The same with somebody, or nobody, set to a place: whoever was there goes where they come from, or alone. */
export function set(benches: Benches, place: number, student: number | null): Benches {
  const out = [...benches];
  const before = out[place] ?? null;
  if (student === null) {
    if (before === null) return out;
    out[place] = null;
    out.push(before, null);
  } else {
    out[out.indexOf(student)] = before;
    out[place] = student;
  }
  return out.filter((_, n) =>
    n % 2 === 0 ? out[n] !== null || out[n + 1] !== null : out[n] !== null || out[n - 1] !== null,
  );
}

/** The benches at which there are two. */
export function pairsOf(benches: Benches): number[][] {
  return benches.flatMap((one, n) => {
    const other = benches[n + 1] ?? null;
    return n % 2 === 0 && one !== null && other !== null ? [[one, other]] : [];
  });
}
