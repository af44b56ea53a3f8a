/**
 * Blocks of international call sign series with whom they are allocated to (ITU Radio Regulations, Appendix 42), in the
 * order of letters before digits. A block is given by its first and last two or three characters. Q is never allocated.
 */
const SERIES = `
AA-AL United States
AM-AO Spain
AP-AS Pakistan
AT-AW India
AX Australia
AY-AZ Argentina
A2 Botswana
A3 Tonga
A4 Oman
A5 Bhutan
A6 United Arab Emirates
A7 Qatar
A8 Liberia
A9 Bahrain
BA-BZ China
B0-B9 China
CA-CE Chile
CF-CK Canada
CL-CM Cuba
CN Morocco
CO Cuba
CP Bolivia
CQ-CU Portugal
CV-CX Uruguay
CY-CZ Canada
C2 Nauru
C3 Andorra
C4 Cyprus
C5 Gambia
C6 Bahamas
C7 World Meteorological Organization
C8-C9 Mozambique
DA-DR Germany
DS-DT Korea (Republic of)
DU-DZ Philippines
D2-D3 Angola
D4 Cabo Verde
D5 Liberia
D6 Comoros
D7-D9 Korea (Republic of)
EA-EH Spain
EI-EJ Ireland
EK Armenia
EL Liberia
EM-EO Ukraine
EP-EQ Iran
ER Moldova
ES Estonia
ET Ethiopia
EU-EW Belarus
EX Kyrgyzstan
EY Tajikistan
EZ Turkmenistan
E2 Thailand
E3 Eritrea
E4 Palestine
E5 Cook Islands
E6 Niue
E7 Bosnia and Herzegovina
FA-FZ France
F0-F9 France
GA-GZ United Kingdom
G0-G9 United Kingdom
HA Hungary
HB Switzerland
HC-HD Ecuador
HE Switzerland
HF Poland
HG Hungary
HH Haiti
HI Dominican Republic
HJ-HK Colombia
HL Korea (Republic of)
HM Korea (Democratic People's Republic of)
HN Iraq
HO-HP Panama
HQ-HR Honduras
HS Thailand
HT Nicaragua
HU El Salvador
HV Vatican City
HW-HY France
HZ Saudi Arabia
H2 Cyprus
H3 Panama
H4 Solomon Islands
H6-H7 Nicaragua
H8-H9 Panama
IA-IZ Italy
I0-I9 Italy
JA-JS Japan
JT-JV Mongolia
JW-JX Norway
JY Jordan
JZ Indonesia
J2 Djibouti
J3 Grenada
J4 Greece
J5 Guinea-Bissau
J6 Saint Lucia
J7 Dominica
J8 Saint Vincent and the Grenadines
KA-KZ United States
K0-K9 United States
LA-LN Norway
LO-LW Argentina
LX Luxembourg
LY Lithuania
LZ Bulgaria
L2-L9 Argentina
MA-MZ United Kingdom
M0-M9 United Kingdom
NA-NZ United States
N0-N9 United States
OA-OC Peru
OD Lebanon
OE Austria
OF-OJ Finland
OK-OL Czechia
OM Slovakia
ON-OT Belgium
OU-OZ Denmark
PA-PI Netherlands
PJ Caribbean Netherlands, Curaçao, Sint Maarten
PK-PO Indonesia
PP-PY Brazil
PZ Suriname
P2 Papua New Guinea
P3 Cyprus
P4 Aruba
P5-P9 Korea (Democratic People's Republic of)
RA-RZ Russia
R0-R9 Russia
SA-SM Sweden
SN-SR Poland
SSA-SSM Egypt
SSN-STZ Sudan
SU Egypt
SV-SZ Greece
S2-S3 Bangladesh
S5 Slovenia
S6 Singapore
S7 Seychelles
S8 South Africa
S9 Sao Tome and Principe
TA-TC Türkiye
TD Guatemala
TE Costa Rica
TF Iceland
TG Guatemala
TH France
TI Costa Rica
TJ Cameroon
TK France
TL Central African Republic
TM France
TN Congo
TO-TQ France
TR Gabon
TS Tunisia
TT Chad
TU Côte d'Ivoire
TV-TX France
TY Benin
TZ Mali
T2 Tuvalu
T3 Kiribati
T4 Cuba
T5 Somalia
T6 Afghanistan
T7 San Marino
T8 Palau
UA-UI Russia
UJ-UM Uzbekistan
UN-UQ Kazakhstan
UR-UZ Ukraine
VA-VG Canada
VH-VN Australia
VO Canada
VP-VQ United Kingdom
VR Hong Kong
VS United Kingdom
VT-VW India
VX-VY Canada
VZ Australia
V2 Antigua and Barbuda
V3 Belize
V4 Saint Kitts and Nevis
V5 Namibia
V6 Micronesia
V7 Marshall Islands
V8 Brunei
WA-WZ United States
W0-W9 United States
XA-XI Mexico
XJ-XO Canada
XP Denmark
XQ-XR Chile
XS China
XT Burkina Faso
XU Cambodia
XV Viet Nam
XW Laos
XX Macao
XY-XZ Myanmar
YA Afghanistan
YB-YH Indonesia
YI Iraq
YJ Vanuatu
YK Syria
YL Latvia
YM Türkiye
YN Nicaragua
YO-YR Romania
YS El Salvador
YT-YU Serbia
YV-YY Venezuela
Y2-Y9 Germany
ZA Albania
ZB-ZJ United Kingdom
ZK-ZM New Zealand
ZN-ZO United Kingdom
ZP Paraguay
ZQ United Kingdom
ZR-ZU South Africa
ZV-ZZ Brazil
Z2 Zimbabwe
Z3 North Macedonia
Z8 South Sudan
2A-2Z United Kingdom
20-29 United Kingdom
3A Monaco
3B Mauritius
3C Equatorial Guinea
3DA-3DM Eswatini
3DN-3DZ Fiji
3E-3F Panama
3G Chile
3H-3U China
3V Tunisia
3W Viet Nam
3X Guinea
3Y Norway
3Z Poland
4A-4C Mexico
4D-4I Philippines
4J-4K Azerbaijan
4L Georgia
4M Venezuela
4O Montenegro
4P-4S Sri Lanka
4T Peru
4U United Nations
4V Haiti
4W Timor-Leste
4X Israel
4Y International Civil Aviation Organization
4Z Israel
5A Libya
5B Cyprus
5C-5G Morocco
5H-5I Tanzania
5J-5K Colombia
5L-5M Liberia
5N-5O Nigeria
5P-5Q Denmark
5R-5S Madagascar
5T Mauritania
5U Niger
5V Togo
5W Samoa
5X Uganda
5Y-5Z Kenya
6A-6B Egypt
6C Syria
6D-6J Mexico
6K-6N Korea (Republic of)
6O Somalia
6P-6S Pakistan
6T-6U Sudan
6V-6W Senegal
6X Madagascar
6Y Jamaica
6Z Liberia
7A-7I Indonesia
7J-7N Japan
7O Yemen
7P Lesotho
7Q Malawi
7R Algeria
7S Sweden
7T-7Y Algeria
7Z Saudi Arabia
8A-8I Indonesia
8J-8N Japan
8O Botswana
8P Barbados
8Q Maldives
8R Guyana
8S Sweden
8T-8Y India
8Z Saudi Arabia
9A Croatia
9B-9D Iran
9E-9F Ethiopia
9G Ghana
9H Malta
9I-9J Zambia
9K Kuwait
9L Sierra Leone
9M Malaysia
9N Nepal
9O-9T Congo (Democratic Republic of the)
9U Burundi
9V Singapore
9W Malaysia
9X Rwanda
9Y-9Z Trinidad and Tobago
`

interface Block {
  /** Three characters, both ends included. */
  from: string
  to: string
  name: string
}

/** Letters before digits, as the regulations count. */
const ORDER = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789'
const widen = (prefix: string, filler: string) => prefix.padEnd(3, filler)

const blocks: readonly Block[] = SERIES.trim()
  .split('\n')
  .map((line) => {
    const at = line.indexOf(' ')
    const [from, to = from] = line.slice(0, at).split('-') as [string, string?]
    return { from: widen(from, ORDER[0]!), to: widen(to, ORDER.at(-1)!), name: line.slice(at + 1) }
  })

const rank = (text: string) => [...text].reduce((sum, letter) => sum * ORDER.length + ORDER.indexOf(letter), 0)
const ranked = blocks.map(({ from, to, name }) => ({ from: rank(from), to: rank(to), name })).sort((a, b) => a.from - b.from)

/** All blocks as numbers of their order, for checks of the table itself. */
export const callSeriesBlocks: readonly { from: number; to: number; name: string }[] = ranked

/**
 * To whom the series of a call is allocated; undefined for what is allocated to nobody, such as all that begins with Q.
 * A prefix before a stroke says where the station is and goes before the call; what follows a call is passed over.
 */
export function allocationOf(call: string): string | undefined {
  const parts = call.toUpperCase().split('/')
  const place = parts.length > 1 && parts[0]!.length <= 4 && parts[0]!.length < parts[1]!.length ? parts[0]! : mainPart(parts)
  if (!/^[A-Z0-9]{1,}$/.test(place)) return undefined
  // What a short prefix leaves open is filled up: all of a block's calls share its first characters.
  const at = rank(widen(place.slice(0, 3), ORDER[0]!))
  return ranked.find((block) => at >= block.from && at <= block.to)?.name
}

const mainPart = (parts: readonly string[]) => parts.reduce((longest, part) => (part.length > longest.length ? part : longest), '')
