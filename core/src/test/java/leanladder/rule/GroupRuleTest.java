package leanladder.rule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class GroupRuleTest {
    @ParameterizedTest(name = "{0} breaks at {1}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            `` | 0 | expected a comparison
            `   ` | 3 | expected a comparison
            colour eq "red" | 0 | "colour" is no path
            attributes. eq "x" | 0 | is no path
            attributes.9lives eq "x" | 0 | is no path
            kind is "person" | 5 | expected one of eq, ne
            kind eq person | 8 | a text in double quotes
            kind eq | 7 | a text in double quotes
            kind eq "person | 8 | not closed by a double quote
            kind eq "pers\\on" | 8 | not written as JSON has it
            kind eq "\\ud83d" | 8 | half of a surrogate pair
            kind eq "person" "room" | 17 | expected and, or, or the end
            kind eq "person" and | 20 | expected a comparison
            (kind eq "person" | 0 | this parenthesis is not closed
            kind eq "person") | 16 | was not opened
            (kind eq "person" kind pr) | 18 | expected and, or, or a closing parenthesis
            not kind pr | 4 | expected a parenthesis after not
            active eq yes | 10 | expected true or false
            active gt true | 7 | only be compared with eq, ne and pr
            unit co "u1" | 5 | only be compared with eq and ne
            memberOf pr | 9 | only be compared with eq and ne
            displayName eq "😀" x | 19 | expected and, or, or the end
            """)
    void aTextThatIsNoRuleIsRefusedAtItsPlace(String text, int position, String message) {
        RuleSyntaxException refused = catchThrowableOfType(RuleSyntaxException.class, () -> GroupRule.parse(text));
        assertThat(refused).as(text).isNotNull().hasMessageContaining(message);
        assertThat(refused.position()).isEqualTo(position);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "active pr",
                "NOT(kind EQ \"room\")",
                "(kind eq \"person\")and(started ge \"2026-01-01\")or unit eq \"u1\"",
                "  attributes.title pr  ",
                "displayName sw \"\\u00c9\"",
                "memberOf ne \"g1\" and id eq \"a1\""
            })
    void aRuleMayBeWrittenWithOrWithoutSpaceAndInEitherCase(String text) throws Exception {
        assertThat(GroupRule.parse(text).text()).isEqualTo(text);
    }

    @Test
    void andBindsMoreThanOr() throws Exception {
        assertThat(GroupRule.parse("kind pr or id pr and started pr").root())
                .isEqualTo(GroupRule.parse("kind pr or (id pr and started pr)").root())
                .isNotEqualTo(
                        GroupRule.parse("(kind pr or id pr) and started pr").root());
    }

    @Test
    void aRuleEndsAtTwoThousandCharactersAndFiftyOpenParentheses() throws Exception {
        String longest = "id eq \"" + "x".repeat(1_992) + "\"";
        assertThat(GroupRule.parse(longest).text()).hasSize(2_000);
        assertThat(catchThrowableOfType(RuleSyntaxException.class, () -> GroupRule.parse(longest + " "))
                        .position())
                .isEqualTo(2_000);
        assertThat(GroupRule.parse("(".repeat(50) + "id pr" + ")".repeat(50)).units())
                .isEmpty();
        assertThat(catchThrowableOfType(
                                RuleSyntaxException.class,
                                () -> GroupRule.parse("(".repeat(51) + "id pr" + ")".repeat(51)))
                        .position())
                .isEqualTo(50);
    }

    @Test
    void theUnitsAndGroupsOfARuleAreKnownWithTheirPlaces() throws Exception {
        GroupRule rule = GroupRule.parse("unit eq \"u1\" and not (memberOf eq \"g1\" or memberOf ne \"g2\")");
        assertThat(rule.groupIds()).containsExactlyInAnyOrder("g1", "g2");
        assertThat(rule.units()).singleElement().satisfies(u -> {
            assertThat(u.unit()).isEqualTo("u1");
            assertThat(u.position()).isEqualTo(8);
        });
    }

    /** Of the examples of the Unicode Character Database, file CaseFolding, status C and S. */
    @ParameterizedTest
    @CsvSource({
        "ABC,abc",
        "STRASSE,strasse",
        "\u00df,\u00df",
        "\u1e9e,\u00df",
        "\u03a3\u03c2,\u03c3\u03c3",
        "\u0130,\u0130",
        "\u0131,\u0131",
        "\u00b5,\u03bc",
        "\u212a,k",
        "\u212b,\u00e5",
        "\u017f,s",
        "\u13a0,\u13a0",
        "\uab70,\u13a0"
    })
    void caseIsFoldedCharacterByCharacter(String text, String folded) {
        assertThat(CaseFolding.fold(text)).isEqualTo(folded);
    }
}
