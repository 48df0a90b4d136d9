/* What every request that writes carries: the token of the session, and a key that makes repeating it harmless. */

export const csrf = document.querySelector('meta[name="csrf-token"]').content;

export function newKey() {
  return crypto.randomUUID ? crypto.randomUUID() : String(Math.random()).slice(2);
}

/* Send words to the server: what it answered, why it refused, or why it is worth sending again. */
export async function post(address, body) {
  try {
    const response = await fetch(address, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-CSRFToken": csrf },
      body: JSON.stringify({ key: newKey(), ...body }),
    });
    if (response.ok) return { body: await response.json() };
    if (response.status === 422) return { refused: (await response.json()).reason };
    if (response.status === 401 || response.status === 400) return { again: "sign in again in another tab" };
    if (response.status < 500) return { refused: "cannot be entered by you here" };
    return { again: "the server is in trouble" };
  } catch {
    return { again: "no connection" };
  }
}
