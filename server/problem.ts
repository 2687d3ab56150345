import type {Response} from 'express';

/** Answers with an error that programs and people can read. */
export const problem = (response: Response, status: number, code: string, message: string) =>
  response.status(status).json({error: {code, message}});
