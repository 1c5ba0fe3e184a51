package leanladder.workingcopy;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class IdGeneratorTest {
    @Test
    void anIdIsReadOffTheName() {
        assertThat(IdGenerator.generate("  Night watch, MV Heron! ", "group", id -> false))
                .isEqualTo("night-watch-mv-heron");
        assertThat(IdGenerator.generate("mirela.osk", "account", id -> false)).isEqualTo("mirela.osk");
    }

    @Test
    void whatIsTakenGetsANumber() {
        assertThat(IdGenerator.generate("Crew", "group", Set.of("crew", "crew-2")::contains))
                .isEqualTo("crew-3");
    }

    @Test
    void aNameWithoutLettersThatIdsCanHoldGivesTheKindOfThing() {
        assertThat(IdGenerator.generate("船", "unit", id -> false)).isEqualTo("unit");
        assertThat(IdGenerator.generate("", "policy", id -> false)).isEqualTo("policy");
    }

    @Property(tries = 500)
    void anIdIsShortAndPlainWhateverTheName(@ForAll String name) {
        assertThat(IdGenerator.generate(name, "policy", id -> false))
                .matches("[a-z0-9][a-z0-9.-]*")
                .hasSizeLessThanOrEqualTo(60);
    }
}
