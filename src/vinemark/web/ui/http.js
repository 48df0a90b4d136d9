/* What every request carries: the session's token, who types, which page, a key that makes repeating harmless. */

const meta = (name) => document.querySelector(`meta[name="${name}"]`)?.content ?? "";
const DEADLINE = 30000;

let token = meta("csrf-token");

export const person = meta("person");
export const section = location.pathname.match(/^\/s\/(\d+)(?:\/|$)/)?.[1] ?? "";
export const page = newKey();

export function newKey() {
  if (crypto.randomUUID) return crypto.randomUUID();
  return Array.from(crypto.getRandomValues(new Uint32Array(4)), (part) => part.toString(36)).join("-");
}

export const headers = () => ({ "X-CSRFToken": token, "X-Person": person, "X-Page": page });

/* The session was begun anew in another window: forms and requests go on with its token. */
export function renew(fresh) {
  token = fresh;
  for (const field of document.querySelectorAll("input[name=csrf_token]")) field.value = fresh;
}

/* Only what the application itself has marked is its answer; anything else came from something between. */
export function marked(response) {
  const mark = response.headers.get("X-Vine-Mark");
  const version = response.headers.get("X-Vine-Mark-Version");
  if (mark) document.dispatchEvent(new CustomEvent("vine-mark:answer", { detail: { version } }));
  return mark;
}
export const markOf = (xhr) => (xhr.status ? xhr.getResponseHeader("X-Vine-Mark") : null);

/* Send words to the server: what it answered, why it refused, or why it is worth sending again. */
export async function post(address, body) {
  try {
    const response = await fetch(address, {
      method: "POST",
      headers: { "Content-Type": "application/json", ...headers() },
      body: JSON.stringify({ key: newKey(), ...body }),
      redirect: "manual",
      signal: AbortSignal.timeout(DEADLINE),
    });
    return await meaning(response);
  } catch {
    return { again: "no connection" };
  }
}

async function meaning(response) {
  const mark = marked(response);
  if (mark === "sign-in" || mark === "stale") return { again: "signed out", signedOut: true };
  if (mark === "answer" && response.ok) return { body: await response.json() };
  if (mark === "refused") return { refused: (await response.json()).reason };
  if (response.type === "opaqueredirect" || !response.status) return { again: "the way to the server is blocked" };
  return { again: `the server answers ${response.status}` };
}

/* Who is signed in now; nothing where that cannot be asked. */
export async function session() {
  try {
    const patience = AbortSignal.timeout(8000);
    const response = await fetch("/session", { cache: "no-store", redirect: "manual", signal: patience });
    return marked(response) && response.ok ? await response.json() : null;
  } catch {
    return null;
  }
}
