import { Validator } from '@seriousme/openapi-schema-validator';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startTestService, type TestService } from '../test/service.ts';
import { describedRoutes } from './route.ts';
import { FILE_WORDS, ROUTE_WORDS } from './route-words.ts';

let service: TestService;
beforeAll(async () => {
  service = await startTestService({ YARLOP_WORKERS: '0' });
}, 60_000);
afterAll(() => service.end());

interface Description {
  openapi: string;
  paths: Record<string, Record<string, { operationId: string; summary: string }>>;
  components: { schemas: Record<string, object> };
}
const description = () => service.api.call<Description>('GET', '/openapi.json');

test('the description is valid OpenAPI 3.1', async () => {
  const checked = await new Validator().validate({ ...(await description()) });
  expect(checked.errors ?? []).toEqual([]);
  expect(checked.valid).toBe(true);
});

test('every route is in it with words of its own, and nothing is that is not there', async () => {
  const { paths } = await description();
  const routes = describedRoutes().map(({ method, path }) => `${method} ${path}`);
  expect(routes.filter((key) => !ROUTE_WORDS[key])).toEqual([]);
  expect(Object.keys(ROUTE_WORDS).filter((key) => !routes.includes(key))).toEqual([]);
  const told = Object.entries(paths).flatMap(([path, operations]) =>
    Object.keys(operations).map((method) => `${method} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  );
  expect(told.sort()).toEqual([...routes, ...Object.keys(FILE_WORDS).map((path) => `get ${path}`)].sort());
  const ids = Object.values(paths).flatMap((operations) =>
    Object.values(operations).map((operation) => operation.operationId),
  );
  expect(new Set(ids).size).toBe(ids.length);
});
