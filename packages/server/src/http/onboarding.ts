import { createServer, type Server } from 'node:http'

/** What a device that knows nothing of this server is told, in both languages. */
const words = {
  en: {
    title: 'Trust this server once',
    why: 'Pages are kept on this device without a network only over a secure connection. This server has made its own authority for that; no one else holds its key.',
    steps: [
      'Tap “Get the authority” and open the file that arrives.',
      'Tablet or phone: allow it as a certificate authority in the settings (on some devices: install the profile, then switch on full trust). Computer: add it to the authorities of the browser.',
      'Then open the school.',
    ],
    get: 'Get the authority',
    open: 'Open the school',
    caution: 'Only do this in your own school’s network, and compare this number with the one on the desk’s screen:',
  },
  de: {
    title: 'Diesem Server einmal vertrauen',
    why: 'Ohne Netz bleiben Seiten auf diesem Gerät nur, wenn die Verbindung sicher ist. Dafür hat dieser Server eine eigene Zertifizierungsstelle; ihren Schlüssel hat sonst niemand.',
    steps: [
      'Auf „Zertifikat holen“ tippen und die Datei öffnen.',
      'Tablet oder Telefon: in den Einstellungen als Zertifizierungsstelle zulassen (auf manchen Geräten: Profil installieren, dann volles Vertrauen einschalten). Rechner: zu den Zertifizierungsstellen des Browsers hinzufügen.',
      'Dann die Schule öffnen.',
    ],
    get: 'Zertifikat holen',
    open: 'Die Schule öffnen',
    caution: 'Nur im Netz der eigenen Schule, und diese Nummer mit der auf dem Bildschirm des Büros vergleichen:',
  },
} as const

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;')

const part = (language: keyof typeof words, address: string, fingerprint: string): string => {
  const w = words[language]
  return `<section lang="${language}"><h1>${w.title}</h1><p>${w.why}</p><ol>${w.steps.map((s) => `<li>${s}</li>`).join('')}</ol>
<p><a class="act" href="/authority.crt">${w.get}</a> <a class="act" href="${escaped(address)}">${w.open}</a></p>
<p>${w.caution}<br><code>${escaped(fingerprint)}</code></p></section>`
}

/** The page that a device opens first, over a plain connection. */
const onboardingPage = (address: string, fingerprint: string): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Ochote</title>
<style>body{font:18px/1.4 sans-serif;background:#f5f1e7;color:#1c1a17;max-width:40em;margin:0 auto;padding:16px}
h1{font-size:26px}.act{display:inline-block;padding:14px 18px;border:2px solid #0c4f4a;color:#0c4f4a;text-decoration:none;margin:4px 8px 4px 0}
code{overflow-wrap:anywhere;font-size:14px}section+section{border-top:1px solid #d3ccbd;margin-top:32px}</style></head>
<body>${part('en', address, fingerprint)}${part('de', address, fingerprint)}</body></html>`

/**
 * A plain server beside the secure one. It holds nothing of the school: it hands out the authority's certificate, says what to do with
 * it, and leads to the secure address under the same name that the device used.
 */
export const onboardingServer = (authority: string, fingerprint: string, securePort: number): Server =>
  createServer((req, res) => {
    const host = (req.headers.host ?? 'localhost').replace(/:\d+$/, '')
    const named = /^[a-z0-9.-]+$/i.test(host) ? host : 'localhost'
    if (req.url === '/authority.crt') {
      res.writeHead(200, {
        'Content-Type': 'application/x-x509-ca-cert',
        'Content-Disposition': 'attachment; filename="ochote-authority.crt"',
        'Cache-Control': 'no-store',
      })
      res.end(authority)
      return
    }
    res.writeHead(200, {
      'Content-Type': 'text/html; charset=utf-8',
      'Cache-Control': 'no-store',
      'Content-Security-Policy':
        "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'",
    })
    res.end(onboardingPage(`https://${named}:${securePort}/`, fingerprint))
  })
