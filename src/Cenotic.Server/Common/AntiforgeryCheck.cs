using Microsoft.AspNetCore.Antiforgery;

namespace Cenotic.Server.Common;

/// <summary>Refuses a write that rides on the sign-in cookie without the page's antiforgery token.</summary>
public sealed class AntiforgeryCheck(IAntiforgery antiforgery) : IEndpointFilter
{
    public const string Header = "X-Cenotic-Token";

    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        if (!await antiforgery.IsRequestValidAsync(context.HttpContext))
        {
            return TypedResults.Problem("The page's token is missing or old; load the page again.", statusCode: StatusCodes.Status400BadRequest);
        }
        return await next(context);
    }
}
