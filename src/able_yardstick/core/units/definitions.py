"""The units the program knows, in pint's definition format: a list of its own, so that no file is read for it.

Sources: ISO 80000-3, -4, -5 and -6 (2019) for units and their factors; SI prefixes by ISO 80000-1:2022, table 4.
A revolution is a count and not an angle: 1 500 rpm is 25 Hz. Volumes of gas at reference conditions are a dimension
of their own, since no factor leads from them to volumes as they are.
"""

LINES = """
nano- = 1e-9 = n-
micro- = 1e-6 = µ- = μ- = u-
milli- = 1e-3 = m-
centi- = 1e-2 = c-
deci- = 1e-1 = d-
hecto- = 1e2 = h-
kilo- = 1e3 = k-
mega- = 1e6 = M-
giga- = 1e9 = G-

meter = [length] = m = metre
second = [time] = s = sec
gram = [mass] = g
ampere = [current] = A = amp
kelvin = [temperature]; offset: 0 = K
mole = [substance] = mol
candela = [luminosity] = cd
radian = [angle] = rad
pulse = [pulse]
count = []
revolution = [] = rev = turn = cycle
percent = 0.01 = %
permille = 0.001 = ‰
ppm = 1e-6
ppb = 1e-9
degree = 3.141592653589793 / 180 * radian = deg = °
degree_Celsius = kelvin; offset: 273.15 = °C = celsius = degC
degree_Fahrenheit = 5 / 9 * kelvin; offset: 233.15 + 200 / 9 = °F = fahrenheit = degF
degree_Rankine = 5 / 9 * kelvin; offset: 0 = °R = rankine = degR

minute = 60 * second = min
hour = 60 * minute = h = hr
day = 24 * hour = d
week = 7 * day
year = 365.25 * day = a
hertz = 1 / second = Hz

inch = 0.0254 * meter = in
foot = 12 * inch = ft = feet
yard = 3 * foot = yd
mile = 1760 * yard = mi
micron = 1e-6 * meter
knot = 1852 * meter / hour
mph = mile / hour
kph = 1000 * meter / hour
liter = 1e-3 * meter ** 3 = l = L = litre
cubic_centimeter = 1e-6 * meter ** 3 = cc
gallon = 231 * inch ** 3 = gal
imperial_gallon = 4.54609e-3 * meter ** 3 = imp_gal
quart = gallon / 4 = qt
fluid_ounce = gallon / 128 = fl_oz
barrel = 42 * gallon = bbl

tonne = 1e6 * gram = t = metric_ton
pound = 453.59237 * gram = lb = lbs
ounce = pound / 16 = oz
grain = pound / 7000
short_ton = 2000 * pound = ton
long_ton = 2240 * pound

newton = 1000 * gram * meter / second ** 2 = N
dyne = 1e-5 * newton = dyn
standard_gravity = 9.80665 * meter / second ** 2 = g_n = g_0 = gravity
kilogram_force = 9.80665 * newton = kgf = kilopond = kp
gram_force = kilogram_force / 1000 = gf
pound_force = 453.59237e-3 * kilogram_force = lbf
ounce_force = pound_force / 16 = ozf
ton_force = 2000 * pound_force = tonf

pascal = newton / meter ** 2 = Pa
bar = 1e5 * pascal
psi = pound_force / inch ** 2 = pound_force_per_square_inch
ksi = 1000 * psi
standard_atmosphere = 101325 * pascal = atm
technical_atmosphere = 98066.5 * pascal = at
torr = 101325 / 760 * pascal = Torr
mmWC = 9.80665 * pascal
cmWC = 10 * mmWC
mWC = 1000 * mmWC
inWC = 25.4 * mmWC
ftWC = 12 * inWC
mmHgCol = 133.322387415 * pascal
inHgCol = 25.4 * mmHgCol

joule = newton * meter = J
watt = joule / second = W
watt_hour = watt * hour = Wh = watthour
calorie = 4.184 * joule = cal
british_thermal_unit = 1055.05585262 * joule = BTU = Btu = btu
electron_volt = 1.602176634e-19 * joule = eV
horsepower = 550 * foot * pound_force / second = hp
metric_horsepower = 75 * meter * kilogram_force / second = PS
poise = 0.1 * pascal * second = P
stokes = 1e-4 * meter ** 2 / second = St

coulomb = ampere * second
volt = watt / ampere = V
ohm = volt / ampere = Ω = Ω
siemens = 1 / ohm = S = mho
farad = coulomb / volt
henry = volt * second / ampere = H
weber = volt * second = Wb
tesla = weber / meter ** 2 = T
gauss = 1e-4 * tesla
volt_ampere = volt * ampere = VA
var = volt * ampere
ampere_hour = ampere * hour = Ah
lumen = candela = lm
lux = lumen / meter ** 2 = lx

normal_cubic_meter = [normal_volume]
normal_liter = 1e-3 * normal_cubic_meter
normal_milliliter = 1e-6 * normal_cubic_meter
standard_cubic_foot = 0.028316846592 * 273.15 / 288.70555555555556 * normal_cubic_meter
""".strip().splitlines()

# What a word is taken for where it could mean something else, and how to write the other meaning.
TAKEN_FOR = {
    "ton": "ton is taken as the short ton, 907.185 kg. Write t for the metric one (1 000 kg).",
    "tons": "tons are taken as short tons, 907.185 kg. Write t for the metric one (1 000 kg).",
    "gal": "gal is taken as the US gallon, 3.785 l. Write imp_gal for the imperial one (4.546 l).",
    "gallon": "gallon is taken as the US one, 3.785 l. Write imp_gal for the imperial one (4.546 l).",
    "gpm": "gpm counts US gallons, 3.785 l. Write imp_gal/min for imperial ones (4.546 l).",
    "T": "T is taken as the tonne, 1 000 kg. Write tesla for the magnetic unit.",
    "C": "C is taken as °C. Write coulomb for the charge.",
    "F": "F is taken as °F. Write farad for the capacitance.",
    "cal": "cal is taken as the thermochemical calorie, 4.184 J.",
    "hp": "hp is taken as the mechanical horsepower, 745.7 W. Write PS for the metric one (735.5 W).",
    "oz": "oz is taken as the mass, 28.35 g. Write ozf for the force, fl_oz for the volume.",
}
# The state that a volume of gas is counted at (DIN 1343; SEMI E12-0303 for slpm and sccm; ISO 13443, 60 °F for scfm).
_NORMAL = "normal volume, at 0 °C and 101.325 kPa: another thing than the volume as it flows"
_STANDARD = "standard cubic feet, at 60 °F (15.56 °C) and 101.325 kPa: another thing than the volume as it flows"
GAS_WORDS = {
    "nm3": ("normal_cubic_meter", _NORMAL), "nm³": ("normal_cubic_meter", _NORMAL),
    "nl": ("normal_liter", _NORMAL), "sl": ("normal_liter", _NORMAL), "slpm": ("normal_liter/minute", _NORMAL),
    "slm": ("normal_liter/minute", _NORMAL), "nlpm": ("normal_liter/minute", _NORMAL),
    "sccm": ("normal_milliliter/minute", _NORMAL), "scfm": ("standard_cubic_foot/minute", _STANDARD),
    "scfh": ("standard_cubic_foot/hour", _STANDARD), "scf": ("standard_cubic_foot", _STANDARD),
}  # fmt: skip
