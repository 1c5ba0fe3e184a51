package leanladder.catalogue;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class UriSyntaxTest {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "https://help.skerrymore.example/",
                "HTTP://a.example:8080/x?y=1#z",
                "http://user@a.example",
                "https://[2001:db8::1]/",
                "https://192.0.2.1/a%20b",
                "mailto:desk@skerrymore.example",
                "mailto:?to=desk@skerrymore.example",
                "https://a.example?q"
            })
    void linksAreTaken(String link) {
        assertThat(UriSyntax.isLink(link)).isTrue();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "a.example",
                "//a.example",
                "ftp://a.example",
                "https://",
                "https:///x",
                "https://?q",
                "https:a.example",
                "https://a b",
                "https://a.example/%zz",
                "https://a.example/<x>",
                "https://[2001:zz]/",
                "https://a.example:port/",
                "javascript:alert(1)",
                "https://é.example/",
                "https://:80/",
                "https://user@/",
                "mailto:a b"
            })
    void otherTextsAreNot(String text) {
        assertThat(UriSyntax.isLink(text)).isFalse();
    }

    @org.junit.jupiter.api.Test
    void linksOfAnyLengthAreTold() {
        String path = "/a%20b/é".replace("é", "e").repeat(200_000);
        assertThat(UriSyntax.isLink("https://a.example" + path + "?q=" + path + "#" + path))
                .isTrue();
        assertThat(UriSyntax.isLink("https://a.example" + path + " ")).isFalse();
        assertThat(UriSyntax.isLink("https://" + "a@".repeat(100_000))).isFalse();
    }
}
