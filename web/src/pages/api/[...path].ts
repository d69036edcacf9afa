import type { APIRoute } from 'astro';

/** Every operation of the server, whatever its method: who may ask for it, and what it takes, is the server's to say. */
export const ALL: APIRoute = ({ locals, request }) => locals.answerApi(request);
