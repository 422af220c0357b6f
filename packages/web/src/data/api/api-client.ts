import { type Endpoint, type Problem, problemSchema } from '@ochote/contract'
import type { z } from 'zod'
import { say } from '../../language/say.ts'

type Given<S> = NonNullable<S> extends z.ZodType ? z.input<NonNullable<S>> : never

/** Arguments of a call: path parameters, query, JSON body or a file; `onSent` is called back with the share of a file that is sent. */
export type CallInput<E extends Endpoint> = {
  params?: Given<E['params']>
  query?: Given<E['query']>
  body?: Given<E['body']>
  file?: Blob
  onSent?: (share: number) => void
}

/** A problem reported by the server, or no connection to it. */
export class ApiProblem extends Error {
  readonly problem: Problem
  constructor(problem: Problem) {
    super(problem.title)
    this.problem = problem
  }
}

const unreachable: Problem = {
  type: 'urn:ochote:problem:unreachable',
  title: say`The server cannot be reached.`,
  status: 0,
  code: 'unreachable',
  remedy: say`This was not saved; it stays here as long as this page is open. Try again when the server is back. What is touched on the track is kept on the device and sent by itself.`,
}

const fileNotSent: Problem = {
  ...unreachable,
  title: say`The connection dropped during the upload.`,
  remedy: say`A file is stored whole or not at all. Once the server is back, check whether it is there; if not, choose it again.`,
}

/** The address of an endpoint with its parameters filled in. */
export const addressOf = (e: Endpoint, params: unknown, query: unknown): string => {
  const path = e.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String((params as Record<string, unknown>)[name])))
  const pairs = Object.entries((query as Record<string, unknown>) ?? {}).filter(([, v]) => v !== undefined && v !== '')
  return pairs.length > 0 ? `${path}?${new URLSearchParams(pairs.map(([k, v]) => [k, String(v)]))}` : path
}

/** Calls an endpoint and returns its answer. @throws ApiProblem */
export const call = async <E extends Endpoint>(e: E, input: CallInput<E> = {}): Promise<z.output<E['response']>> => {
  const headers: Record<string, string> = { Accept: 'application/json' }
  const init: RequestInit = { method: e.method.toUpperCase(), headers, credentials: 'same-origin' }
  if (input.file) {
    init.body = input.file
    headers['Content-Type'] = 'application/octet-stream'
  } else if (input.body !== undefined) {
    init.body = JSON.stringify(input.body)
    headers['Content-Type'] = 'application/json'
  }
  const address = addressOf(e, input.params, input.query)
  let response: Response
  try {
    response =
      input.file && input.onSent ? await send(address, init.method ?? 'PUT', headers, input.file, input.onSent) : await fetch(address, init)
  } catch {
    throw new ApiProblem(input.file ? fileNotSent : unreachable)
  }
  if (response.ok) return (await response.json()) as z.output<E['response']>
  const problem = problemSchema.safeParse(await response.json().catch(() => null))
  throw new ApiProblem(problem.success ? problem.data : { ...unreachable, status: response.status })
}

/** Sends a file and reports its progress, which `fetch` cannot do for uploads. */
const send = (
  address: string,
  method: string,
  headers: Record<string, string>,
  file: Blob,
  onSent: (share: number) => void,
): Promise<Response> =>
  new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open(method, address)
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value)
    request.upload.onprogress = (event) => onSent(event.total > 0 ? event.loaded / event.total : 0)
    request.onload = () => resolve(new Response(request.responseText, { status: request.status }))
    request.onerror = () => reject(new TypeError(say`not sent`))
    request.send(file)
  })
