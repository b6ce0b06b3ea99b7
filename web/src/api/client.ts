import createClient from 'openapi-fetch'
import { patient } from './patience'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']
export type PieceCard = Schemas['PieceCard']
export type ActAsk = Schemas['ActAsk']
export type Finding = Schemas['Finding']

export const api = createClient<paths>({ baseUrl: '', fetch: patient })

/** A refusal of the server, with its fields and words. */
export class ProblemError extends Error {
  readonly problem: Problem
  constructor(problem: Problem) {
    super(problem.detail)
    this.problem = problem
  }

  /** The words for one field, if it is among the wrong ones. */
  field(name: string): string | undefined {
    return this.problem.errors?.find((e) => e.field === name)?.message
  }
}

const unreachable: Problem = {
  type: 'urn:build-manifest:unreachable',
  title: 'No connection',
  status: 0,
  detail: 'The server does not answer. What you typed is still here; try again when you are back in reach.',
  errors: [],
}

/** The data of an answer, or its problem as an error. */
export function unwrap<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.data !== undefined && answer.response.ok) return answer.data
  const problem = answer.error as Problem | undefined
  throw new ProblemError(problem?.detail ? problem : { ...unreachable, status: answer.response.status })
}

/** Any failure as a problem that can be shown. */
export function problemOf(error: unknown): ProblemError {
  return error instanceof ProblemError ? error : new ProblemError(unreachable)
}

/** A key of our own for one request; works on plain-http addresses of the home network too. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint32Array(4)), (n) => n.toString(16).padStart(8, '0')).join('-')
}
