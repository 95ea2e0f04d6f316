/** Passkeys (W3C WebAuthn) between the browser and the server; both speak the standard's JSON. */
import { answer, api } from "../api/client";

/** Addresses that are numbers have no passkeys; older browsers have none at all. */
export const hasPasskeys = () =>
  "PublicKeyCredential" in window && isSecureContext && !/^[\d.]+$|^\[/.test(location.hostname);

const bytes = (text: string) =>
  Uint8Array.from(atob(text.replace(/-/g, "+").replace(/_/g, "/")), (c) => c.charCodeAt(0)).buffer;
const text = (buffer: ArrayBuffer | null) =>
  buffer === null
    ? null
    : btoa(String.fromCharCode(...new Uint8Array(buffer)))
        .replace(/\+/g, "-")
        .replace(/\//g, "_")
        .replace(/=+$/, "");

interface Described {
  id: string;
  type: "public-key";
}
const described = (all: Described[] | undefined) => all?.map((one) => ({ ...one, id: bytes(one.id) }));

/** Somebody said no, or the device did: nothing to be told of. */
export const givenUp = (error: unknown) => error instanceof DOMException && error.name === "NotAllowedError";

/** Make a passkey on this device, and keep it with the account. */
export async function makePasskey(name: string) {
  const { options } = await answer(api.POST("/api/account/passkeys/begin"));
  const asked = options as unknown as {
    challenge: string;
    user: { id: string };
    excludeCredentials?: Described[];
  };
  const made = (await navigator.credentials.create({
    publicKey: {
      ...asked,
      challenge: bytes(asked.challenge),
      user: { ...asked.user, id: bytes(asked.user.id) },
      excludeCredentials: described(asked.excludeCredentials),
    } as unknown as PublicKeyCredentialCreationOptions,
  })) as PublicKeyCredential;
  const response = made.response as AuthenticatorAttestationResponse;
  await answer(
    api.POST("/api/account/passkeys", {
      body: {
        name,
        answer: {
          id: made.id,
          rawId: text(made.rawId),
          type: made.type,
          response: {
            clientDataJSON: text(response.clientDataJSON),
            attestationObject: text(response.attestationObject),
            transports: response.getTransports(),
          },
          clientExtensionResults: made.getClientExtensionResults(),
        },
      },
    }),
  );
}

/** Sign in with whichever passkey of this address the device has. */
export async function enterByPasskey() {
  const { options } = await answer(api.POST("/api/entry/passkey/begin"));
  const asked = options as unknown as { challenge: string; allowCredentials?: Described[] };
  const found = (await navigator.credentials.get({
    publicKey: {
      ...asked,
      challenge: bytes(asked.challenge),
      allowCredentials: described(asked.allowCredentials),
    } as unknown as PublicKeyCredentialRequestOptions,
  })) as PublicKeyCredential;
  const response = found.response as AuthenticatorAssertionResponse;
  await answer(
    api.POST("/api/entry/passkey", {
      body: {
        name: "",
        answer: {
          id: found.id,
          rawId: text(found.rawId),
          type: found.type,
          response: {
            clientDataJSON: text(response.clientDataJSON),
            authenticatorData: text(response.authenticatorData),
            signature: text(response.signature),
            userHandle: text(response.userHandle),
          },
          clientExtensionResults: found.getClientExtensionResults(),
        },
      },
    }),
  );
}
