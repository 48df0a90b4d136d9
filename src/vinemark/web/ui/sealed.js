/* What somebody typed and is not saved yet, kept in this browser: readable only while that person is signed in. */

import { person } from "./http.js";

const before = `vine-mark ${person} `;
const key = keyOf(document.querySelector('meta[name="sealing-key"]')?.content);
const memory = new Map();

function keyOf(text) {
  return text ? bytesOf(text) : null;
}

function bytesOf(text) {
  return Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0));
}

function textOf(bytes) {
  return btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(""));
}

function seal(value) {
  const nonce = nacl.randomBytes(nacl.secretbox.nonceLength);
  const words = new TextEncoder().encode(JSON.stringify(value));
  return `${textOf(nonce)}.${textOf(nacl.secretbox(words, nonce, key))}`;
}

function unseal(text) {
  try {
    const [nonce, box] = text.split(".").map(bytesOf);
    return JSON.parse(new TextDecoder().decode(nacl.secretbox.open(box, nonce, key)));
  } catch {
    return null;
  }
}

/* Whether the browser keeps it; where it does not, it is held by this page alone. */
export function put(name, value) {
  memory.set(name, value);
  try {
    localStorage.setItem(before + name, seal(value));
    return true;
  } catch {
    try { localStorage.removeItem(before + name); } catch { /* blocked altogether */ }
    return false;
  }
}

export function remove(name) {
  memory.delete(name);
  try { localStorage.removeItem(before + name); } catch { /* blocked altogether */ }
}

export function get(name) {
  try {
    return unseal(localStorage.getItem(before + name) ?? "") ?? memory.get(name) ?? null;
  } catch {
    return memory.get(name) ?? null;
  }
}

/* The names under which something of this person is kept. */
export function names() {
  if (!key) return [];
  try {
    const kept = Object.keys(localStorage).filter((name) => name.startsWith(before));
    return [...new Set([...kept.map((name) => name.slice(before.length)), ...memory.keys()])];
  } catch {
    return [...memory.keys()];
  }
}
