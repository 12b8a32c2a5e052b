// To whom a lesson is given, and on which terms.
import { Checkbox, Radio, Select } from 'antd';
import { useState } from 'react';

import { Terms, USUAL, type TermsOf } from './Terms';
import { studentsOf, useClasses, type Class } from './useClasses';

export type Giving = { klass?: number; students?: number[]; terms: TermsOf };

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
  terms: given.terms,
});

/** How many get it. */
export const countOf = (given: Giving, klass: Class) => (given.students ?? studentsOf(klass)).length;

type Props = ReturnType<typeof useGiving> & { someOnly?: boolean };

export function GivingTo({ classes, klass, given, setGiven, someOnly }: Props) {
  if (!klass) return <p className="quiet">You teach no class yet: make one under Classes.</p>;
  const students = studentsOf(klass);
  const some = someOnly || given.students !== undefined;
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
            onChange={(id) => setGiven({ ...given, klass: id, students: some ? [] : undefined })}
          />
        )}
        {!someOnly && (
          <Radio.Group
            id="give-whom"
            value={some ? 'some' : 'all'}
            onChange={(e) => setGiven({ ...given, students: e.target.value === 'some' ? [] : undefined })}
            options={[
              { value: 'all', label: `${klass.name}: all ${students.length}, and whoever joins` },
              { value: 'some', label: 'some of them' },
            ]}
          />
        )}
        {students.length === 0 && <span className="quiet">There are no students in this class yet.</span>}
        {some && (
          <Checkbox.Group
            value={given.students ?? []}
            onChange={(v) => setGiven({ ...given, students: v.map(Number) })}
            options={students.map((s) => ({ value: s.id, label: s.display }))}
          />
        )}
        {!someOnly && <Terms terms={given.terms} onChange={(terms) => setGiven({ ...given, terms })} />}
      </div>
    </fieldset>
  );
}
