// Which screen stands at which address, by role.
import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes as Switch, useLocation } from 'react-router';

import { NewPassword } from '../screens/sign-in/NewPassword';
import { SignIn } from '../screens/sign-in/SignIn';
import { InstrumentsContext, useInstrumentList } from './instruments';
import { is, useMe } from './me';
import { Shell } from './Shell';
import { Loaded } from './Unloaded';

const Circuits = lazy(() => import('../screens/circuits/Circuits'));
const Book = lazy(() => import('../screens/book/Book'));
const Classes = lazy(() => import('../screens/classes/Classes'));
const FaultBench = lazy(() => import('../screens/fault-bench/FaultBench'));
const Workshop = lazy(() => import('../screens/workshop/Workshop'));
const Course = lazy(() => import('../screens/courses/Course'));
const Courses = lazy(() => import('../screens/courses/Courses'));
const Maker = lazy(() => import('../screens/maker/Maker'));
const Lessons = lazy(() => import('../screens/lessons/Lessons'));
const Live = lazy(() => import('../screens/live/Live'));
const People = lazy(() => import('../screens/people/People'));
const Attempts = lazy(() => import('../screens/attempts/Attempts'));
const Notebook = lazy(() => import('../screens/attempts/Notebook'));
const Debriefs = lazy(() => import('../screens/debriefs/Debriefs'));
const Start = lazy(() => import('../screens/start/Start'));
const Insight = lazy(() => import('../screens/insight/Insight'));
const ClassInsight = lazy(() => import('../screens/insight/ClassInsight'));
const Bench = lazy(() => import('../screens/bench/Bench'));
const CircuitPaper = lazy(() => import('../screens/paper/CircuitPaper'));
const Paper = lazy(() => import('../screens/paper/Paper'));
const Sheet = lazy(() => import('../screens/sheet/Sheet'));

export function Routes() {
  const me = useMe();
  const instruments = useInstrumentList(!!me.data);
  const { pathname } = useLocation();
  if (pathname === '/new-password') return <NewPassword />;
  if (me.isPending) return <p className="page quiet">Opening …</p>;
  if (!me.data) return <SignIn />;
  if (instruments.error) return <p className="page error-line">{instruments.error.message}</p>;
  if (!instruments.data) return <p className="page quiet">Opening …</p>;
  const staff = is(me.data, 'administrator', 'instructor', 'assistant');
  const home = staff ? '/start' : '/attempts';
  return (
    <InstrumentsContext value={instruments.data}>
      <Loaded at={pathname}>
        <Suspense fallback={<p className="page quiet">Opening …</p>}>
          <Switch>
            {is(me.data, 'instructor') && (
              <>
                <Route path="/circuits" element={<Circuits />} />
                <Route path="/circuits/:id/fault-bench" element={<FaultBench />} />
                <Route path="/circuits/:id/paper" element={<CircuitPaper />} />
                <Route path="/circuits/:id/workshop" element={<Workshop />} />
                <Route path="/circuits/:id/lessons" element={<Maker />} />
                <Route path="/lessons" element={<Lessons />} />
                <Route path="/courses" element={<Courses />} />
                <Route path="/courses/:id" element={<Course />} />
              </>
            )}
            {staff && (
              <>
                <Route path="/start" element={<Start />} />
                <Route path="/classes" element={<Classes />} />
                <Route path="/classes/:id/book" element={<Book />} />
                <Route path="/assignments/:id/live" element={<Live />} />
                <Route path="/assignments/:id/insight" element={<Insight />} />
                <Route path="/classes/:id/insight" element={<ClassInsight />} />
                <Route path="/assignments/:id/debriefs" element={<Debriefs />} />
                <Route path="/people" element={<People />} />
              </>
            )}
            {is(me.data, 'student') && <Route path="/attempts" element={<Attempts />} />}
            {is(me.data, 'student') && <Route path="/notebook" element={<Notebook />} />}
            <Route path="/attempts/:id" element={<Bench />} />
            <Route path="/attempts/:id/sheet" element={<Sheet />} />
            <Route path="/attempts/:id/paper" element={<Paper />} />
            <Route path="/" element={<Navigate to={home} replace />} />
            <Route
              path="*"
              element={
                <Shell crumbs={[]}>
                  <div className="page">
                    <h1>Nothing here</h1>
                    <p>
                      This address leads nowhere. Go <a href={home}>back to the start</a>.
                    </p>
                  </div>
                </Shell>
              }
            />
          </Switch>
        </Suspense>
      </Loaded>
    </InstrumentsContext>
  );
}
