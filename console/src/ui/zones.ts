// The IANA time zones that the browser knows. Firefox and WebKit list UTC among them, Chromium does
// not.
export const zones = [...new Set(["UTC", ...Intl.supportedValuesOf("timeZone")])];
