/**
 * Questions that are too long for an address (filters with many words, a thousand chosen tracks): a POST whose body is
 * the query, said to be a GET by `X-HTTP-Method-Override`, the usual header for it. Routes see a GET.
 */
import express, { type RequestHandler } from 'express';

const body = express.text({ type: 'application/x-www-form-urlencoded', limit: '8mb' });

export const longQuestions: RequestHandler = (request, response, next) => {
  if (request.method !== 'POST' || request.headers['x-http-method-override'] !== 'GET') {
    next();
    return;
  }
  body(request, response, (error?: unknown) => {
    if (error) {
      next(error);
      return;
    }
    const query = typeof request.body === 'string' ? request.body : '';
    request.url = `${request.url.split('?')[0]!}?${query}`;
    request.method = 'GET';
    request.body = undefined;
    next();
  });
};
