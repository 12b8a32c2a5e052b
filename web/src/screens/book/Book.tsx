// The book of marks of a class: students by what they were given.
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Private, PrivatePart } from '../../app/projector';
import { Shell } from '../../app/Shell';
import './Book.css';
import { ManyMarks } from './ManyMarks';
import { Weights } from './Weights';

type Cell = Schemas['BookCell'];

const WORDS: Record<Cell['state'], string> = {
  not_begun: '·',
  at_work: 'at work',
  handed_in: 'being marked',
  marked: '',
  missing: 'missing',
  excused: 'excused',
};

const RESULTS = ['categories.csv', 'lineItems.csv', 'results.csv'] as const;
const RESULTS_WORDS = { 'categories.csv': 'categories', 'lineItems.csv': 'line items', 'results.csv': 'results' };

const tenth = (marks: number | null | undefined) => (typeof marks === 'number' ? marks.toFixed(1) : '');

export default function Book() {
  const id = Number(useParams().id);
  const book = useQuery({
    queryKey: ['book', id],
    queryFn: () => ask(api.GET('/api/classes/{id}/book', { params: { path: { id } } })),
    staleTime: 0,
  });
  return (
    <Shell crumbs={[{ text: 'Classes', to: '/classes' }, { text: book.data?.class ?? '…' }, { text: 'Book of marks' }]}>
      <main className="page book" tabIndex={0}>
        <div className="row">
          <h1>Book of marks</h1>
          {book.data?.marks && book.data.columns.length > 0 && (
            <Private instead="">
              <ManyMarks id={id} book={book.data} />
            </Private>
          )}
          {book.data?.marks && <Weights id={id} categories={book.data.categories} />}
          <span className="at-the-right no-print">
            <a href={`/api/classes/${id}/book.csv`} download>
              As CSV
            </a>{' '}
            <span className="quiet">· OneRoster 1.1:</span>{' '}
            {RESULTS.map((file) => (
              <a key={file} className="spaced" href={`/api/classes/${id}/oneroster/${file}`} download>
                {RESULTS_WORDS[file]}
              </a>
            ))}
          </span>
        </div>
        {book.error && <p className="error-line">{book.error.message}</p>}
        {book.data?.columns.length === 0 && <p>Nothing that is marked was given to this class yet.</p>}
        <PrivatePart what="Names and marks are">
          {book.data && book.data.columns.length > 0 && (
            <table className="sheet-table">
              <thead>
                <tr>
                  <th>Student</th>
                  {book.data.columns.map((c) => (
                    <th key={c.assignment} className="number">
                      {c.title}
                      {c.category && <div className="quiet light">{c.category}</div>}
                    </th>
                  ))}
                  <th className="number">Mean</th>
                </tr>
              </thead>
              <tbody>
                {book.data.rows.map((row) => (
                  <tr key={row.student} className={row.left ? 'quiet' : undefined} data-student={row.display}>
                    <th scope="row">{row.display}</th>
                    {row.cells.map((cell, n) => (
                      <td key={book.data.columns[n]?.assignment} className="number">
                        {cell && <Mark cell={cell} />}
                      </td>
                    ))}
                    <td className="number">{row.says}</td>
                  </tr>
                ))}
              </tbody>
              <tfoot>
                <tr>
                  <th scope="row">Mean, median</th>
                  {book.data.columns.map((c) => (
                    <td key={c.assignment} className="number quiet">
                      {typeof c.mean === 'number' ? (
                        <>
                          {tenth(c.mean)}, {tenth(c.median)}
                          <div>of {c.count}</div>
                        </>
                      ) : (
                        '–'
                      )}
                    </td>
                  ))}
                  <td />
                </tr>
              </tfoot>
            </table>
          )}
        </PrivatePart>
        <p className="quiet">
          Marks of 100. A mark in italics was given by an instructor in the place of a computed one; “late” is after it
          was due.
        </p>
      </main>
    </Shell>
  );
}

function Mark({ cell }: { cell: Cell }) {
  const text = cell.state === 'marked' ? cell.says : WORDS[cell.state];
  const bad = cell.state === 'missing' || cell.late;
  return (
    <>
      <Link
        to={`/attempts/${cell.attempt}/sheet`}
        className={cell.given ? 'given' : undefined}
        title={cell.attempts > 1 ? `${cell.attempts} attempts` : undefined}
        aria-label={cell.state === 'not_begun' ? 'not begun' : undefined}
      >
        {text}
      </Link>
      {bad && cell.late && <span className="bad"> late</span>}
    </>
  );
}
