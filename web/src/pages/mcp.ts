import type { APIRoute } from 'astro';

/** Where assistants ask, by the Model Context Protocol: as of the API, who may ask for what is the server's to say. */
export const ALL: APIRoute = ({ locals, request }) => locals.answerApi(request);
