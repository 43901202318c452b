/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/lamp.h>

/*
 * Signs on 14 segments, from the space to '~': bits in the order a b c d e f g1 g2 h j k l m n and
 * the point. Small letters that 14 segments do not tell from others are capitals. Our own shapes.
 */
static const DIA_ROM uint16_t signs[95] = {
    0x0000, 0x0006, 0x0022, 0x12ce, 0x12ed, 0x0c24, 0x2359, 0x0200, /* space ! " # $ % & ' */
    0x2400, 0x0900, 0x3fc0, 0x12c0, 0x0800, 0x00c0, 0x4000, 0x0c00, /* ( ) * + , - . / */
    0x0c3f, 0x0406, 0x00db, 0x008f, 0x00e6, 0x00ed, 0x00fd, 0x0007, /* 0 1 2 3 4 5 6 7 */
    0x00ff, 0x00ef, 0x4000, 0x0a00, 0x2440, 0x00c8, 0x0980, 0x1083, /* 8 9 : ; < = > ? */
    0x02bb, 0x00f7, 0x128f, 0x0039, 0x120f, 0x0079, 0x0071, 0x00bd, /* @ A B C D E F G */
    0x00f6, 0x1209, 0x001e, 0x2470, 0x0038, 0x0536, 0x2136, 0x003f, /* H I J K L M N O */
    0x00f3, 0x203f, 0x20f3, 0x018d, 0x1201, 0x003e, 0x0c30, 0x2836, /* P Q R S T U V W */
    0x2d00, 0x1500, 0x0c09, 0x0039, 0x2100, 0x000f, 0x2800, 0x0008, /* X Y Z [ \ ] ^ _ */
    0x0100, 0x1058, 0x2078, 0x00d8, 0x088e, 0x0858, 0x0071, 0x00bd, /* ` a b c d e f g */
    0x1070, 0x1000, 0x001e, 0x2470, 0x0030, 0x10d4, 0x1050, 0x00dc, /* h i j k l m n o */
    0x0271, 0x203f, 0x0050, 0x018d, 0x0078, 0x001c, 0x0810, 0x2814, /* p q r s t u v w */
    0x2d00, 0x1500, 0x0848, 0x0159, 0x1200, 0x048e, 0x00c0,         /* x y z { | } ~ */
};

#define POINT_14 ((uint32_t)1 << 14)
#define POINT_16 ((uint32_t)1 << 16)

uint32_t dia_segments14_of(char character)
{
    uint8_t at = (uint8_t)(character - ' ');
    return at < 95 ? signs[at] : 0;
}

/* a and d are two halves each, and the others move up. */
uint32_t dia_segments16_of(char character)
{
    uint32_t of14 = dia_segments14_of(character);
    uint32_t of16 = (of14 & 1u) * 3u;        /* a */
    of16 |= (of14 & 6u) << 1;                /* b c */
    of16 |= (of14 >> 3 & 1u) * 0x30u;        /* d */
    return of16 | (of14 >> 4 & 0x7ffu) << 6; /* e to n, the point */
}

static uint16_t spell(const char *text, uint32_t (*of)(char), uint32_t point, uint32_t *out,
                      uint16_t count)
{
    uint16_t at = 0, left = 0;
    memset(out, 0, count * sizeof *out);
    for (; *text; text++) {
        uint32_t segments = of(*text);
        if (segments == point && at > 0 && left == 0 && !(out[at - 1] & point))
            out[at - 1] |= point;
        else if (at < count)
            out[at++] = segments;
        else
            left++;
    }
    return left;
}

uint16_t dia_segments14_text(const char *text, uint32_t *digits, uint16_t count)
{
    return spell(text, dia_segments14_of, POINT_14, digits, count);
}

uint16_t dia_segments16_text(const char *text, uint32_t *digits, uint16_t count)
{
    return spell(text, dia_segments16_of, POINT_16, digits, count);
}
