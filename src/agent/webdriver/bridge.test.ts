import { usualCapabilities } from './bridge'

test.each([
  ['Chromium', 'Debian 12', { browserName: 'chrome', platformName: 'linux' }],
  ['Edge', 'Windows 11', { browserName: 'MicrosoftEdge', platformName: 'windows' }],
  ['Safari', 'macOS 15', { browserName: 'safari', platformName: 'mac' }],
  ['Firefox', 'Harbour OS', { browserName: 'firefox' }],
])('%s on %s', (browser, os, expected) => expect(usualCapabilities({ browser, os })).toEqual(expected))
