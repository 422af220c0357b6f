import { z } from 'zod'
import { api } from './api.ts'
import type { Endpoint } from './endpoint.ts'
import { permissionOf } from './permissions.ts'
import { problemSchema } from './problem.ts'

const schemaOf = (schema: z.ZodType): object => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { target: 'draft-2020-12', io: 'input', unrepresentable: 'any' })
  return rest
}

const parametersOf = (schema: z.ZodType | undefined, place: 'path' | 'query'): object[] => {
  if (!schema) return []
  const { properties = {}, required = [] } = schemaOf(schema) as { properties?: Record<string, object>; required?: string[] }
  return Object.entries(properties).map(([name, property]) => ({
    name,
    in: place,
    required: place === 'path' || required.includes(name),
    schema: property,
  }))
}

const bodyOf = (e: Endpoint): object => {
  if (e.upload)
    return { requestBody: { required: true, content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } } }
  return e.body ? { requestBody: { required: true, content: { 'application/json': { schema: schemaOf(e.body) } } } } : {}
}

/** The API as an OpenAPI 3.1 document, generated from the endpoint descriptions. */
export const openApiDocument = (version: string): object => {
  const paths: Record<string, Record<string, object>> = {}
  for (const e of Object.values(api) as Endpoint[]) {
    const path = e.path.replace(/:(\w+)/g, '{$1}')
    const { who, within } = permissionOf(e)
    paths[path] ??= {}
    paths[path][e.method] = {
      operationId: e.id,
      summary: e.summary,
      security: who === 'anyone' || who === 'link' ? [] : [{ session: [] }],
      'x-who-may': who,
      ...(within ? { 'x-within': within } : {}),
      parameters: [...parametersOf(e.params, 'path'), ...parametersOf(e.query, 'query')],
      ...bodyOf(e),
      responses: {
        200: { description: 'Done', content: { [e.stream ? 'text/event-stream' : 'application/json']: { schema: schemaOf(e.response) } } },
        default: { description: 'A problem', content: { 'application/problem+json': { schema: schemaOf(problemSchema) } } },
      },
    }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Ochote', version, description: 'Plan, coach and review driver training on a closed circuit.' },
    paths,
    components: { securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'ochote.sid' } } },
  }
}
