"use strict";
// Offers the time zones that the browser knows; any other name may be typed.
document.querySelector("[data-zones]").replaceChildren(...(Intl.supportedValuesOf?.("timeZone") || []).map((zone) => new Option(zone, zone)));
