// Makes resources/js/api/schemas.ts from the JSON Schemas, which are the single source of these types.
import { readFileSync, writeFileSync } from 'node:fs';
import { compile } from 'json-schema-to-typescript';

const schema = JSON.parse(readFileSync('resources/schemas/api.schema.json', 'utf8'));
const source = await compile(schema, 'Api', {
    additionalProperties: false,
    bannerComment: '/* Made from resources/schemas/api.schema.json by `npm run types`. Do not edit. */',
    unreachableDefinitions: false,
    style: { singleQuote: true, tabWidth: 4 },
});
writeFileSync('resources/js/api/schemas.ts', source);
