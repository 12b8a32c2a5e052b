// The courses of the school.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { FileButton } from '../../app/FileButton';
import { Shell } from '../../app/Shell';
import { useChange } from '../classes/useClasses';

type CourseDoc = Schemas['CourseDoc'];

export default function Courses() {
  const courses = useQuery({ queryKey: ['courses'], queryFn: () => ask(api.GET('/api/courses')) });
  const navigate = useNavigate();
  const { change, error } = useChange();
  const [title, setTitle] = useState('');
  const [away, setAway] = useState(false);
  const make = () =>
    change(async () => {
      const made = await ask(api.POST('/api/courses', { body: { title } }));
      void navigate(`/courses/${made.id}`);
    });
  const takeIn = async (text: string) => {
    await change(async () => {
      let body: CourseDoc;
      try {
        body = JSON.parse(text) as CourseDoc;
      } catch {
        throw new Error('This file is no course: expected one that was exported from a school.');
      }
      const made = await ask(api.POST('/api/courses/import', { body }));
      void navigate(`/courses/${made.id}`);
    });
  };
  const shown = courses.data?.filter((c) => c.put_away === away) ?? [];
  return (
    <Shell crumbs={[{ text: 'Courses' }]}>
      <main className="page" tabIndex={0}>
        <h1>Courses</h1>
        <p className="quiet">
          A course puts lessons in the order they are taught. A class takes one, and what it has done shows there.
        </p>
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            void make();
          }}
        >
          <Input
            id="new-course"
            aria-label="Title of a new course"
            placeholder="Title of a new course"
            className="class-name"
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
          <Button htmlType="submit" disabled={title.trim() === ''}>
            Make a course
          </Button>
          <FileButton id="import-course" accept=".json" className="ant-btn" onText={takeIn}>
            Import course …
          </FileButton>
          {(away || courses.data?.some((c) => c.put_away)) && (
            <Checkbox checked={away} onChange={(e) => setAway(e.target.checked)}>
              Those put away
            </Checkbox>
          )}
        </form>
        <div role="alert" className="error-line">
          {error}
        </div>
        {courses.error && <p className="error-line">{courses.error.message}</p>}
        {courses.data?.length === 0 && <p>No course yet.</p>}
        {shown.map((course) => (
          <section key={course.id} className="apart" data-course={course.title}>
            <h2>
              <Link to={`/courses/${course.id}`}>{course.title}</Link>
            </h2>
            <p className="quiet tight">
              {course.lessons} {course.lessons === 1 ? 'lesson' : 'lessons'}
              {course.classes.length > 0 && ` · taken by ${course.classes.join(', ')}`}
            </p>
            {course.about && <p className="close">{course.about}</p>}
          </section>
        ))}
      </main>
    </Shell>
  );
}
