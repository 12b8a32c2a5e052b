// To whom a lesson is given, and on which terms.
import { Checkbox, Radio, Select } from 'antd';
import { useState } from 'react';

import { Groups } from './Groups';
import { inOrder, pairsOf, type Benches } from './pairs';
import { Pairs } from './Pairs';
import { Terms, USUAL, type TermsOf } from './Terms';
import { studentsOf, useClasses, type Class } from './useClasses';

export type Giving = { klass?: number; students?: number[]; pairs?: Benches; terms: TermsOf };

/** What is chosen, and the classes to choose from: those that one teaches and that go on. */
export function useGiving() {
  const classes = useClasses().data?.filter((c) => c.own_role === 'instructor' && !c.over) ?? [];
  const [given, setGiven] = useState<Giving>({ terms: USUAL });
  const klass = classes.find((c) => c.id === given.klass) ?? classes[0];
  return { classes, klass, given, setGiven, reset: () => setGiven({ terms: USUAL }) };
}

/** The body of what gives a lesson. */
export const bodyOf = (given: Giving, klass: Class, lesson: number) => ({
  class: klass.id,
  lesson,
  students: given.students,
  pairs: pairsOf(given.pairs ?? []),
  terms: given.terms,
});

/** How many get it. */
export const countOf = (given: Giving, klass: Class) => (given.students ?? studentsOf(klass)).length;

type Props = ReturnType<typeof useGiving> & {
  /** It is dealt to whoever is there now: who joins later gets nothing of it. */
  dealt?: boolean;
};

export function GivingTo({ classes, klass, given, setGiven, dealt }: Props) {
  if (!klass) return <p className="quiet">You teach no class yet: make one under Classes.</p>;
  const students = studentsOf(klass);
  const some = given.students !== undefined;
  const whom = given.students ?? students.map((s) => s.id);
  // Who is given it changes, and with that who works with whom.
  const giveTo = (to: number[] | undefined) =>
    setGiven({ ...given, students: to, pairs: given.pairs && inOrder(to ?? students.map((s) => s.id)) });
  return (
    <fieldset className="ruled-box">
      <legend>Give to</legend>
      <div className="stack">
        {classes.length > 1 && (
          <Select
            id="give-class"
            aria-label="Class"
            value={klass.id}
            options={classes.map((c) => ({ value: c.id, label: c.name }))}
            onChange={(id) => setGiven({ ...given, klass: id, students: some ? [] : undefined, pairs: undefined })}
          />
        )}
        <Radio.Group
          id="give-whom"
          value={some ? 'some' : 'all'}
          onChange={(e) => giveTo(e.target.value === 'some' ? [] : undefined)}
          options={[
            { value: 'all', label: `${klass.name}: all ${students.length}${dealt ? '' : ', and whoever joins'}` },
            { value: 'some', label: 'some of them' },
          ]}
        />
        {students.length === 0 && <span className="quiet">There are no students in this class yet.</span>}
        {some && students.length > 0 && <Groups klass={klass.id} chosen={given.students ?? []} onChoose={giveTo} />}
        {some && (
          <Checkbox.Group
            value={given.students ?? []}
            onChange={(v) => giveTo(v.map(Number))}
            options={students.map((s) => ({ value: s.id, label: s.display }))}
          />
        )}
        {students.length > 1 && (
          <Checkbox
            id="give-in-pairs"
            checked={given.pairs !== undefined}
            onChange={(e) => setGiven({ ...given, pairs: e.target.checked ? inOrder(whom) : undefined })}
          >
            Two at a bench: both see it, each writes what they expect and judges for themselves
          </Checkbox>
        )}
        {given.pairs && (
          <Pairs
            students={students.filter((s) => whom.includes(s.id))}
            benches={given.pairs}
            onChange={(pairs) => setGiven({ ...given, pairs })}
          />
        )}
        <Terms terms={given.terms} onChange={(terms) => setGiven({ ...given, terms })} />
      </div>
    </fieldset>
  );
}
