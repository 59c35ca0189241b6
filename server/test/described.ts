import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';

interface Operation {
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema?: object }>> };
  readonly responses: Readonly<
    Record<string, { readonly content?: Readonly<Record<string, { readonly schema?: object }>> }>
  >;
}
interface Description {
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components: object;
}

/** Holds requests and replies to what a service says of itself (its OpenAPI description), as a client of another house would. */
export class Described {
  private readonly ajv = new Ajv2020({ strict: false, allErrors: false });
  private readonly compiled = new Map<string, ValidateFunction>();
  private readonly patterns: { pattern: RegExp; operations: Readonly<Record<string, Operation>>; fixed: number }[];

  constructor(description: Description) {
    this.ajv.addSchema({ $id: 'urn:yarlop:description', components: description.components });
    this.patterns = Object.entries(description.paths)
      .map(([path, operations]) => ({
        pattern: new RegExp(`^${path.replace(/[.]/g, '\\.').replace(/\{\w+\}/g, '[^/]+')}$`),
        operations,
        fixed: path.replace(/\{\w+\}/g, '').length,
      }))
      .sort((a, b) => b.fixed - a.fixed);
  }

  static async of(address: string): Promise<Described> {
    return new Described((await (await fetch(`${address}/api/v1/openapi.json`)).json()) as Description);
  }

  /** Throws where a reply is not what is described; and where a request that is described otherwise was taken all the same. */
  check(method: string, path: string, body: unknown, status: number, type: string, reply: unknown): void {
    const plain = path.split('?')[0]!;
    const operation = this.patterns.find(
      ({ pattern, operations }) => pattern.test(plain) && operations[method.toLowerCase()],
    )?.operations[method.toLowerCase()];
    if (!operation) {
      if (status < 400) throw new Error(`${method} ${path} was answered, and is not described`);
      return;
    }
    const content = (operation.responses[String(status)] ?? operation.responses.default)?.content?.[
      type.split(';')[0]!
    ];
    if (!content) throw new Error(`${method} ${path}: ${status} as ${type} is not described`);
    if (content.schema) this.hold(content.schema, reply, `the reply to ${method} ${path}`);
    const taken = operation.requestBody?.content['application/json']?.schema;
    if (taken && status < 300) this.hold(taken, body, `the request ${method} ${path}`);
  }

  private hold(schema: object, value: unknown, what: string): void {
    const key = JSON.stringify(schema);
    let check = this.compiled.get(key);
    if (!check)
      this.compiled.set(
        key,
        (check = this.ajv.compile(
          JSON.parse(key.replaceAll('"#/components', '"urn:yarlop:description#/components')) as object,
        )),
      );
    if (!check(value)) throw new Error(`${what} is not as described: ${this.ajv.errorsText(check.errors)}`);
  }
}
