// Package money holds amounts, currencies and rates. An amount is a whole
// number of minor units (cents) of one ISO 4217 currency; no binary floating
// point touches it. Products and quotients are exact until one rounding to
// minor units, half to even.
package money

import "strings"

// Currency is an ISO 4217 alphabetic code, such as "EUR". The zero value is no
// currency.
type Currency string

// codes lists the ISO 4217 currencies by the number of digits of their minor
// unit.
var codes = map[int]string{
	0: "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF",
	2: "AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BOV BRL BSD BTN BWP BYN BZD CAD CDF CHE CHF CHW CNY COP COU CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MXV MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD USN UYU UZS VED VES WST XCD XCG YER ZAR ZMW ZWG",
	3: "BHD IQD JOD KWD LYD OMR TND",
	4: "CLF UYW",
}

var exponents = func() map[Currency]int {
	m := make(map[Currency]int)
	for exp, list := range codes {
		for _, c := range strings.Fields(list) {
			m[Currency(c)] = exp
		}
	}
	return m
}()

// ParseCurrency gives the currency of a code in any case; ok is false for a
// code that ISO 4217 does not list.
func ParseCurrency(s string) (c Currency, ok bool) {
	c = Currency(strings.ToUpper(strings.TrimSpace(s)))
	_, ok = exponents[c]
	return c, ok
}

// Exponent is the number of digits of the currency's minor unit: 2 for EUR, 0
// for JPY. An unknown currency has 2.
func (c Currency) Exponent() int {
	if e, ok := exponents[c]; ok {
		return e
	}
	return 2
}
