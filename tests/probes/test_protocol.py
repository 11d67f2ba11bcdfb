"""What probes say, held to bytes worked out by hand from the tables of the Bluetooth SIG.

Numbers and encodings: GATT Specification Supplement (temperature, humidity, pressure, battery level), Assigned Numbers; from
memory.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from icepick.probes.protocol import (
    BY_MEASURED,
    BY_NUMBER,
    CHARACTERISTICS,
    BytesError,
    decode,
    encode,
    long_form,
    short_form,
)

WORKED = [
    # 21.50 °C is 2150 hundredths, 0x0866, low byte first.
    ("temperature", "66 08", 294.65),
    # −5.00 °C is −500, 0xFE0C as two's complement of 16 bits.
    ("temperature", "0c fe", 268.15),
    ("temperature", "00 00", 273.15),
    # The hottest and the coldest it can say: 327.67 °C, and absolute zero at −27315, 0x954D.
    ("temperature", "ff 7f", 600.82),
    ("temperature", "4d 95", 0.0),
    # 45.67 % is 4567, 0x11D7.
    ("relative_humidity", "d7 11", 0.4567),
    ("relative_humidity", "10 27", 1.0),
    # 101325.0 Pa is 1013250 tenths, 0x000F7602.
    ("pressure", "02 76 0f 00", 101_325.0),
    # 400 psig at sea level, 2859227.6 Pa: 28592276, 0x01B44894.
    ("pressure", "94 48 b4 01", 2_859_227.6),
    ("battery", "64", 1.0),
    ("battery", "07", 0.07),
]


@pytest.mark.parametrize(("measured", "data", "value"), WORKED)
def test_worked_bytes_both_ways(measured, data, value):
    characteristic = BY_MEASURED[measured]
    assert decode(characteristic, bytes.fromhex(data)) == pytest.approx(value, abs=1e-6)
    assert encode(characteristic, value) == bytes.fromhex(data)


@pytest.mark.parametrize(("measured", "data"), [("temperature", "00 80"), ("relative_humidity", "ff ff")])
def test_not_known_is_no_number(measured, data):
    assert decode(BY_MEASURED[measured], bytes.fromhex(data)) is None
    assert encode(BY_MEASURED[measured], None) == bytes.fromhex(data)


@pytest.mark.parametrize(
    ("measured", "data", "said"),
    [
        ("temperature", "66", "takes 2 bytes, and 1 came"),
        ("temperature", "66 08 00", "takes 2 bytes, and 3 came"),
        ("pressure", "", "takes 4 bytes, and 0 came"),
        # One hundredth under absolute zero.
        ("temperature", "4c 95", "-273.16 came"),
        ("relative_humidity", "11 27", "100.01 came"),
        ("battery", "65", "101 came"),
    ],
)
def test_what_it_can_not_mean_is_refused_with_a_sentence(measured, data, said):
    with pytest.raises(BytesError, match=said):
        decode(BY_MEASURED[measured], bytes.fromhex(data))


@given(st.sampled_from(CHARACTERISTICS), st.binary(max_size=6))
def test_whatever_comes_is_a_number_of_its_range_or_refused(characteristic, data):
    try:
        value = decode(characteristic, data)
    except BytesError:
        return
    if value is not None:
        assert encode(characteristic, value) == data


def test_the_numbers_in_their_long_form():
    assert long_form(0x2A6E) == "00002a6e-0000-1000-8000-00805f9b34fb"
    assert {number: short_form(one.uuid.upper()) for number, one in BY_NUMBER.items()} == {
        number: number for number in (0x2A6E, 0x2A6D, 0x2A6F, 0x2A19)
    }
    # A maker's own.
    assert short_form("6e400001-b5a3-f393-e0a9-e50e24dcca9e") is None
    assert short_form("what") is None
