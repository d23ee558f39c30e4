import { targetConstructorToSchema, validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { descriptionOf, operationNames } from '@jasmorphe/core/operations/catalogue';
import { checkNames } from '@jasmorphe/core/params/checks';
import { wordsOf } from '@jasmorphe/core/params/Param';
import { answerSchemas, responseSchemas } from './responseSchemas.ts';
import type { Responses } from './responses.ts';
import { routes, type Answer, type Route } from './routes.ts';

/** A successful answer. */
function answerOf(gives: Answer | null): object {
  if (gives === null) return { description: 'Done' };
  if (gives in responseSchemas)
    return {
      description: 'What was asked for',
      content: { 'application/json': { schema: responseSchemas[gives as keyof Responses] } },
    };
  return { description: 'What was asked for', content: { [gives]: {} } };
}

/** OpenAPI 3.1 description, made from the same classes that validate the requests. */
export function openApiDocument(): object {
  // checks of ours carry their schema with them
  const additionalConverters = Object.fromEntries(
    [...checkNames].map((name) => [
      name,
      (meta: { constraints?: unknown[] }) => meta.constraints![0] as { description?: string },
    ]),
  );
  const options = { refPointerPrefix: '#/components/schemas/', additionalConverters };
  validationMetadatasToSchemas(options);
  const schemas: Record<string, unknown> = {
    Error: {
      type: 'object',
      required: ['error'],
      properties: {
        error: {
          type: 'object',
          required: ['code', 'message', 'hint'],
          properties: {
            code: { type: 'string' },
            message: { type: 'string' },
            hint: { type: 'string' },
            field: { type: 'string' },
          },
        },
      },
    },
  };
  Object.assign(schemas, answerSchemas);
  const all = Object.entries(routes) as [string, Route][];
  for (const [, { body }] of all) if (body) schemas[body.name] ??= targetConstructorToSchema(body, options);
  for (const name of operationNames) {
    const { params, words } = descriptionOf(name);
    const schema = targetConstructorToSchema(params, options);
    for (const [param, { help }] of wordsOf(params)) {
      const property = schema.properties?.[param];
      if (property && !('$ref' in property)) property.description = help;
    }
    schemas[params.name] = {
      ...schema,
      description: `Parameters of "${name}": ${words.summary}.`,
    };
  }
  const failure = {
    description: 'What went wrong, and what to try',
    content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
  };
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, { summary, body, mayBeEmpty, query, ok = 200, once, gives }] of all) {
    const [method, path] = name.split(' ');
    const parameters: object[] = [...path.matchAll(/\{(\w+)\}/g)].map(([, key]) => ({
      name: key,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    if (query) {
      const { properties = {}, required = [] } = targetConstructorToSchema(query, options);
      for (const [key, schema] of Object.entries(properties))
        parameters.push({ name: key, in: 'query', required: required.includes(key), schema });
    }
    if (once)
      parameters.push({
        name: 'Idempotency-Key',
        in: 'header',
        required: false,
        description: 'Known for 30 days: the same word sent again with it is done once, and gets the same answer.',
        schema: { type: 'string', minLength: 8, maxLength: 120 },
      });
    const schema = body && { $ref: `#/components/schemas/${body.name}` };
    (paths[`/api${path}`] ??= {})[method.toLowerCase()] = {
      summary,
      parameters,
      ...(schema ? { requestBody: { required: !mayBeEmpty, content: { 'application/json': { schema } } } } : {}),
      responses: { [ok]: answerOf(gives), default: failure },
    };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Jasmorphe', version: '0.1.0', description: 'Lengths in mm, volumes in mm3, mass in g, time in s.' },
    paths,
    components: { schemas },
  };
}
