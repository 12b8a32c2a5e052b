// The API as the server describes it. Types come from its OpenAPI document, made in the build.
import createClient from 'openapi-fetch';

import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Drawing = Schemas['Drawing'];
export type BenchView = Schemas['BenchView'];
export type AttemptView = Schemas['AttemptView'];
export type LedgerLine = Schemas['LedgerLine'];
export type Action = Schemas['Action'];
export type Verdict = Schemas['Verdict'];
export type MeterFunction = Schemas['Function'];
export type FaultDoc = Schemas['FaultDoc'];
export type FaultBenchView = Schemas['FaultBenchView'];
export type KeyRow = Schemas['KeyRow'];
export type MarkSheet = Schemas['MarkSheet'];
export type MarkLine = Schemas['MarkLine'];
export type Debrief = Schemas['Debrief'];
export type DebriefStep = Schemas['DebriefStep'];
export type Plan = Schemas['Plan'];
export type Variant = Schemas['Variant'];
export type CircuitDoc = Schemas['CircuitDoc'];
export type WireDoc = Schemas['WireDoc'];
export type KindItem = Schemas['KindItem'];
export type Finding = Schemas['Checked']['refused'][number];
export type Offer = Schemas['Offer'];
export type Me = Schemas['Me'];
export type Capture = Schemas['Capture'];
export type Looks = Schemas['Looks'];
export type Scope = Schemas['Scope'];
export type ScopeProbe = Schemas['Probe'];
export type Supposed = Schemas['Supposed'];
export type Touch = Schemas['Touch'];
export type PlaceInfo = Schemas['PlaceInfo'];
export type Instrument = Schemas['InstrumentInfo'];
export type PutOn = Schemas['PutOn'];

/** How often one who was turned away asks again. */
const TRIES = 6;
/** Longest wait, in seconds, that nobody is told of. */
const LONGEST = 3;

/** Asks again by itself where the server says when to: nothing was done then. */
export async function patiently(
  request: Request,
  send: (request: Request) => Promise<Response> = fetch,
  wait: (ms: number) => Promise<unknown> = (ms) => new Promise((done) => setTimeout(done, ms)),
): Promise<Response> {
  for (let tries = 1; ; tries++) {
    const response = await send(request.clone());
    const seconds = Number(response.headers.get('Retry-After'));
    const later = response.status === 503 || response.status === 429;
    // Longer waits are said to whoever waits.
    if (!later || !(seconds > 0) || seconds > LONGEST || tries >= TRIES) return response;
    // Not all at the same instant again.
    await wait(1000 * seconds * (0.5 + Math.random()));
  }
}

export const api = createClient<paths>({ baseUrl: '', fetch: (request) => patiently(request) });

/** An error of the API, or a lost connection, as one sentence. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

/** What went wrong as a sentence that stands by itself. */
export function sentenceOf(error: unknown): string {
  const text = (error as Error).message;
  const begun = `${text[0]?.toUpperCase() ?? ''}${text.slice(1)}`;
  return /[.!?)]$/.test(begun) ? begun : `${begun}.`;
}

/** The data of an answer, or an ApiError with the server's sentence. */
export async function ask<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let settled;
  try {
    settled = await answer;
  } catch {
    throw new ApiError('The server cannot be reached. What you typed is kept; try again.', 0);
  }
  if (settled.response.ok) return settled.data as T;
  const problem = settled.error as { detail?: string; mistakes?: { path: string; message: string }[] } | undefined;
  // A refused document has all its mistakes named, a line each.
  const mistakes = problem?.mistakes?.map((m) => `${m.path}: ${m.message}`).join('\n');
  const detail = mistakes || problem?.detail;
  // By its number what went wrong is found in the server's log.
  const number = settled.response.headers.get('x-request-id');
  if (settled.response.status >= 500 && detail && number) {
    throw new ApiError(`${detail} (request ${number})`, settled.response.status);
  }
  throw new ApiError(detail ?? `The server answered ${settled.response.status}.`, settled.response.status);
}
