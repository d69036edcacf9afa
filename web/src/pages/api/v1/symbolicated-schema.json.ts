import { symbolicatedSchema } from '@rough-ember/core/symbolicate/symbolicated-json';
import type { APIRoute } from 'astro';
import { z } from 'zod';

const schema = z.toJSONSchema(symbolicatedSchema, { target: 'draft-2020-12' });

/** The form of what "ember symbolicate --json" prints; it holds nothing of any app. */
export const GET: APIRoute = () => Response.json(schema);
