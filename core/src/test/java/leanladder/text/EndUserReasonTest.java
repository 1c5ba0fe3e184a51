package leanladder.text;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class EndUserReasonTest {
    @ParameterizedTest
    @CsvSource({
        "S, false, too small for it",
        "S, true, too small for it",
        "M, true, 'on trial, and a trial does not include it'",
        "L, true, 'on trial, and a trial does not include it'"
    })
    void aTrialOfSufficientSizeIsNotCalledTooSmall(String size, boolean trial, String expected) {
        ObjectNode file = (ObjectNode) Json.read("""
                {'format': 'lean-ladder-estate/1', 'organisation': {'name': 'Skerry'},
                 'catalogue': {'sizes': ['S', 'M', 'L'], 'apps': [{'id': 'chat', 'name': 'Chat'}], 'settings': [{'key': 'chat.notes',
                   'app': 'chat', 'title': 'Notes', 'type': 'switch', 'default': true, 'strict': false, 'fallback': false,
                   'needs': [{'hosting': 'M'}]}]},
                 'units': [{'id': 'skerry', 'name': 'Skerry'}],
                 'accounts': [{'id': 'ann', 'userName': 'ann@skerry.example', 'displayName': 'Ann', 'kind': 'person', 'unit': 'skerry'}],
                 'groups': [], 'policies': [], 'workspaces': [{'id': 'room', 'name': 'Room', 'size': '%s', 'trial': %s}]}
                """.formatted(size, trial).replace('\'', '"'));
        CompiledEstate estate = new CompiledEstate(RandomEstate.read(file));
        EvaluationContext context = new EvaluationContext(RandomEstate.NOW, Optional.of("room"));
        AccountResolver resolver = new AccountResolver(
                estate,
                context,
                estate.seats(context.at()),
                estate.estate().account("ann").orElseThrow());
        String reason = new EndUserReason(new EstateFormatter(estate.estate(), context.at()))
                .of(resolver.climb(
                        estate.estate().catalogue().setting("chat.notes").orElseThrow()));
        assertThat(reason).contains(expected);
    }
}
