package leanladder.estate.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PictureContentTest {
    private static byte[] svg(String inner) {
        return ("<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink'>" + inner
                        + "</svg>")
                .getBytes(StandardCharsets.UTF_8);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "<script>alert(1)</script>",
                "<rect onload='alert(1)'/>",
                "<a href='https://elsewhere.example/'/>",
                "<image xlink:href='https://elsewhere.example/a.png'/>",
                "<image href='data:image/svg+xml;base64,AA'/>",
                "<a href=' JavaScript:alert(1)'/>",
                "<rect fill='url(https://elsewhere.example/#a)'/>",
                "<rect style='fill:url(#a);mask:url(https://elsewhere.example/)'/>",
                "<style>@import 'https://elsewhere.example/a.css';</style>",
                "<style><![CDATA[rect{fill:url(//elsewhere.example/)}]]></style>",
                "<foreignObject/>",
                "<?xml-stylesheet href='a.css'?>"
            })
    void svgThatRunsOrLoadsSomethingIsRefused(String inner) {
        assertThat(PictureContent.problem(svg(inner))).as(inner).isPresent();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "<rect fill='url(#a)'/><use href='#b'/>",
                "<style>rect{fill:red}</style>",
                "<image href='data:image/png;base64,AA'/>"
            })
    void svgThatStandsAloneIsAllowed(String inner) {
        assertThat(PictureContent.problem(svg(inner))).as(inner).isEmpty();
        assertThat(PictureContent.media(svg(inner))).contains("image/svg+xml");
    }

    @Test
    void theMediaTypeIsThatOfTheContent() {
        byte[] png = {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'};
        assertThat(PictureContent.media(png)).contains("image/png");
        assertThat(PictureContent.problem("a text".getBytes(StandardCharsets.UTF_8)))
                .contains("is not PNG, JPEG, WebP or SVG");
        assertThat(PictureContent.problem(Arrays.copyOf(png, PictureContent.MOST_BYTES)))
                .isEmpty();
        assertThat(PictureContent.problem(Arrays.copyOf(png, PictureContent.MOST_BYTES + 1)))
                .contains("has more than 256 KB");
        assertThat(PictureContent.sha256(new byte[0]))
                .isEqualTo("e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
    }
}
