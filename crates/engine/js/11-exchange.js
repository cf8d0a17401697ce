// Requests, answered from a list that the host gives. Nothing leaves the process; delays are virtual. Shared with the stage in a
// real browser.

/**
 * `{ method, path, replies: [{ status, headers, text, after } | { fail: true, after }] }`: they come in turn, the last again and again;
 * a `*` in a path stands for anything.
 */
let answers = null;
/** What statuses are called (RFC 9110 §15). */
const STATUS = {
  200: 'OK', 201: 'Created', 202: 'Accepted', 204: 'No Content', 206: 'Partial Content', 301: 'Moved Permanently', 302: 'Found', 304: 'Not Modified',
  400: 'Bad Request', 401: 'Unauthorized', 402: 'Payment Required', 403: 'Forbidden', 404: 'Not Found', 405: 'Method Not Allowed', 408: 'Request Timeout',
  409: 'Conflict', 410: 'Gone', 412: 'Precondition Failed', 413: 'Content Too Large', 415: 'Unsupported Media Type', 418: 'I\'m a teapot',
  422: 'Unprocessable Content', 429: 'Too Many Requests', 500: 'Internal Server Error', 501: 'Not Implemented', 502: 'Bad Gateway',
  503: 'Service Unavailable', 504: 'Gateway Timeout',
};
/** What was asked for since the host last took it. */
let requests = [];
/** How many have no answer yet. */
let flying = 0;

const matches = (pattern, text) => new RegExp(`^${pattern.split('*').map((p) => p.replace(/[.+?^${}()|[\]\\]/g, '\\$&')).join('.*')}$`).test(text);
const answerTo = (method, url) => {
  const own = url.origin === here.origin ? url.pathname : url.origin + url.pathname;
  return answers?.find((a) => a.method === method && (matches(a.path, own + url.search) || matches(a.path, own)));
};

/**
 * One request: `done(reply)` or `failed(message)` is called as a task, after the delay of the answer. Gives what calls it off.
 */
const exchange = ({ method, url, headers, body }, done, failed) => {
  const answer = answerTo(method, url);
  const shown = url.origin === here.origin ? url.pathname + url.search : url.href;
  // Of what a server on this machine renders, requests really go there.
  const sent = !answer && host.send ? JSON.parse(host.send(JSON.stringify({ method, url: shown, headers: [...(headers ?? [])], body: body ?? null }))) : null;
  requests.push({ method, url: shown, body: body ?? null, answered: !!answer || !!sent && !sent.fail });
  // The host gives the list anew for each case.
  const reply = answer && answer.replies[Math.min(answer.asked ?? 0, answer.replies.length - 1)];
  if (answer) answer.asked = (answer.asked ?? 0) + 1;
  const after = reply?.after ?? 0;
  flying++;
  const timer = setTimeout(() => {
    flying--;
    if (sent) { if (sent.fail) failed(sent.why); else done(sent); } else if (!answer) failed(`A component on the stage has no network: ${method} ${shown} was not sent${answers ? ', and no reply is canned for it' : ''}.`);
    else if (reply.fail) failed('Failed to fetch');
    else done(reply);
  }, after);
  return () => {
    if (isPending(timer)) flying--;
    clearTimeout(timer);
  };
};
