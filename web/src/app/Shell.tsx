// The top line: mark, where one is, what is going on, who is signed in.
import { Button } from 'antd';
import { Fragment, type KeyboardEvent, type ReactNode } from 'react';
import { Link } from 'react-router';

import { is, useMe, useSignOut } from './me';
import { OwnPassword } from './OwnPassword';
import { ProjectorSwitch, useProjecting } from './projector';
import './Shell.css';

type Crumb = { text: string; to?: string };

/** An open list takes the Tab key for a choice and keeps it: one who works by keyboard could not leave. */
function letTabPass(e: KeyboardEvent) {
  if (e.key === 'Tab' && (e.target as HTMLElement).matches('.ant-select-input, .ant-select-selection-search-input'))
    e.stopPropagation();
}

export function Shell(props: { crumbs: Crumb[]; pills?: string[]; children: ReactNode }) {
  const me = useMe().data;
  const signOut = useSignOut();
  const projecting = useProjecting();
  const staff = is(me, 'administrator', 'instructor', 'assistant');
  return (
    <div className={projecting ? 'shell projecting' : 'shell'} onKeyDownCapture={letTabPass}>
      <header className="top">
        <Link className="mark" to="/">
          <i aria-hidden />
          Cimento
        </Link>
        <nav className="crumbs" aria-label="Where you are">
          {props.crumbs.map((c, n) => (
            <Fragment key={c.text}>
              {n > 0 && ' › '}
              {c.to ? <Link to={c.to}>{c.text}</Link> : c.text}
            </Fragment>
          ))}
        </nav>
        {props.pills?.map((p) => (
          <span className="pill" key={p}>
            {p}
          </span>
        ))}
        {is(me, 'student') && staff && <Link to="/attempts">Work orders</Link>}
        {is(me, 'instructor') && (
          <>
            <Link to="/circuits">Circuits</Link>
            <Link to="/lessons">Lessons</Link>
            <Link to="/courses">Courses</Link>
          </>
        )}
        {staff && (
          <>
            <Link to="/classes">Classes</Link>
            <Link to="/people">People</Link>
          </>
        )}
        {staff && <ProjectorSwitch />}
        {me && <OwnPassword display={me.display} />}
        <Button size="small" type="text" onClick={() => void signOut()}>
          Sign out
        </Button>
      </header>
      {props.children}
    </div>
  );
}
