import { openApiDocument } from '@rough-ember/server/api/openapi';
import type { APIRoute } from 'astro';

/** What the API can do, for whoever writes to it; it holds nothing of any app. */
export const GET: APIRoute = ({ locals }) => Response.json(openApiDocument(locals.services.publicUrl));
